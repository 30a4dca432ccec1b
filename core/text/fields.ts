import type { Block } from "./block.ts";
import type { Field } from "./field.ts";
import type { Manuscript, Picture } from "./manuscript.ts";
import { countCharacters, countManuscript, countWords } from "./measure.ts";

/** What a field holds: words, dates (`2026-11-24`), choices, addresses, files and pieces (by id) are strings. */
export type Value = string | number | Picture | Manuscript;

/** What a version holds: a title, and a value for each field of its kind. */
export interface Content {
  title: string;
  fields: Record<string, Value>;
}

/** The keys of the fields that hold something else than before. */
export const changedFields = (before: Content, after: Content): string[] =>
  [...new Set([...Object.keys(before.fields), ...Object.keys(after.fields)])].filter(
    (key) => JSON.stringify(before.fields[key]) !== JSON.stringify(after.fields[key]),
  );

/** What of a content an approval binds to: everything but its free fields. */
export function boundContent(fields: readonly Field[], content: Content): Content {
  const free = new Set(fields.filter((field) => field.free).map((field) => field.key));
  if (free.size === 0) return content;
  return { ...content, fields: Object.fromEntries(Object.entries(content.fields).filter(([key]) => !free.has(key))) };
}

/** The fields readers see: free ones are for the workshop alone. */
export const forReaders = (fields: readonly Field[]): Field[] => fields.filter((field) => !field.free);

export const TITLE_LIMIT = 200;
/** A file that becomes a draft has at most so many bytes. */
export const FILE_BYTES = 10_000_000;

/** One thing a content lacks or exceeds; `key` is the field's, or `title`. */
export interface FieldProblem {
  key: string;
  sentence: string;
}

/** How many words each field of a content holds, by the field's key; a value that is no words counts as one. */
export type WordCounts = Record<string, number>;

/** The words of all its fields together. */
export const total = (words: WordCounts): number => Object.values(words).reduce((sum, one) => sum + one, 0);

/** Counts a content's words, field by field. */
export function countFields(content: Content): WordCounts {
  return Object.fromEntries(Object.entries(content.fields).map(([key, value]) => [key, countValue(value)]));
}

function countValue(value: Value): number {
  if (typeof value === "string") return countWords(value);
  return isManuscript(value) ? countManuscript(value as Block) : 1;
}

/** Whether a value is a text with structure. */
export const isManuscript = (value: Value | undefined): value is Manuscript =>
  typeof value === "object" && "type" in value && value.type === "doc";

/** What stands between a content and its kind's limits: missing fields, too few words, too many, out of bounds. */
export function fieldProblems(fields: readonly Field[], content: Content, counts: WordCounts): FieldProblem[] {
  return fields.flatMap((field) => {
    const value = content.fields[field.key];
    return [...wanting(field, value, counts[field.key] ?? 0)].map((sentence) => ({ key: field.key, sentence }));
  });
}

function* wanting(field: Field, value: Value | undefined, words: number): Generator<string> {
  const { name } = field;
  if (value === undefined || words === 0) {
    if (field.required) yield `${name} is empty`;
    return;
  }
  const has = `${name} has ${words} ${words === 1 ? "word" : "words"}`;
  if (field.maxWords && words > field.maxWords) yield `${has}, at most ${field.maxWords} fit`;
  if (field.minWords && words < field.minWords) yield `${has}, at least ${field.minWords} are wanted`;
  if (field.maxCharacters && typeof value === "string") {
    const characters = countCharacters(value);
    if (characters > field.maxCharacters)
      yield `${name} has ${characters} characters, at most ${field.maxCharacters} fit`;
  }
  if (field.type === "choice" && !field.options?.includes(String(value))) yield `${name} is not among the choices`;
  if (typeof value === "number") {
    const unit = field.unit ? ` ${field.unit}` : "";
    if (field.least !== undefined && value < field.least) yield `${name} is less than ${field.least}${unit}`;
    if (field.most !== undefined && value > field.most) yield `${name} is more than ${field.most}${unit}`;
  }
  for (const picture of picturesOf(value)) {
    if (picture.alt.trim() === "") yield `${name}: a picture has no description for who cannot see it`;
    if (picture.credit.trim() === "") yield `${name}: a picture has no credit`;
  }
}

/** The pictures a value shows, in their order. */
export function picturesOf(value: Value): Picture[] {
  if (isManuscript(value)) return picturesIn(value as Block);
  return typeof value === "object" && "file" in value ? [value as Picture] : [];
}

const picturesIn = (block: Block): Picture[] =>
  block.type === "image" ? [block.attrs as unknown as Picture] : (block.content ?? []).flatMap(picturesIn);
