import { Temporal } from "temporal-polyfill";
import { z } from "zod";
import type { Block } from "./block.ts";
import { isFile, type Manuscript, type Picture, readManuscript, safeAddress } from "./manuscript.ts";
import { countCharacters, countManuscript, countWords } from "./measure.ts";

/** What a field can hold. */
export const FIELD_TYPES = [
  "line",
  "manuscript",
  "number",
  "date",
  "choice",
  "link",
  "image",
  "file",
  "piece",
] as const;

const OPTIONS = 40;

/** One field of a kind of piece, with its guidance and limits. */
export const fieldSchema = z
  .strictObject({
    key: z.string().regex(/^[a-z0-9-]+$/),
    name: z.string().min(1).max(80),
    type: z.enum(FIELD_TYPES),
    guidance: z.string().max(300).optional(),
    required: z.boolean().default(false),
    /** Not part of what an approval binds to, and never shown to readers: internal notes. */
    free: z.boolean().optional(),
    /** For words: how many. */
    minWords: z.int().min(1).optional(),
    maxWords: z.int().min(1).optional(),
    /** For a line: characters as a reader counts them. */
    maxCharacters: z.int().min(1).max(2_000).optional(),
    /** For a number: what it is counted in, and between which bounds. */
    unit: z.string().min(1).max(20).optional(),
    least: z.number().optional(),
    most: z.number().optional(),
    /** For a choice: what there is to choose from. */
    options: z.array(z.string().min(1).max(80)).max(OPTIONS).optional(),
  })
  .refine(
    (field) => field.type !== "choice" || (field.options?.length ?? 0) > 0,
    "a choice needs something to choose from",
  )
  .refine(
    ({ least, most }) => least === undefined || most === undefined || least <= most,
    "at most is less than at least",
  );

export type Field = z.infer<typeof fieldSchema>;

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
/** A character as a reader sees it, with all its accents, is written with so many units at most. */
const CHARACTER_MOST = 40;
/** A file that becomes a draft has at most so many bytes. */
export const FILE_BYTES = 10_000_000;
const LINE_LIMIT = 2_000;

/** One thing a content lacks or exceeds; `key` is the field's, or `title`. */
export interface FieldProblem {
  key: string;
  sentence: string;
}

const pictureSchema = z.strictObject({
  file: z.string().refine(isFile),
  alt: z.string().max(LINE_LIMIT),
  caption: z.string().max(LINE_LIMIT),
  credit: z.string().max(LINE_LIMIT),
});

/** How each type of field is read: the value, or a sentence that says what is wrong with it. */
const READERS: Record<Field["type"], (value: unknown, field: Field) => { value: Value } | { problem: string }> = {
  manuscript: (value) => {
    const read = readManuscript(value);
    return "problem" in read ? read : { value: read.manuscript };
  },
  number: (value) =>
    typeof value === "number" && Number.isFinite(value) ? { value } : { problem: "this is no number." },
  image: (value) => {
    const read = pictureSchema.safeParse(value);
    return read.success ? { value: read.data } : { problem: "this is no picture." };
  },
  line: (value) => text(value, () => true, ""),
  date: (value) => text(value, isDate, "this is no date."),
  choice: (value) => text(value, () => true, ""),
  link: (value) => text(value, safeAddress, "an address begins with https://, mailto: or /."),
  file: (value) => text(value, isFile, "this is no file."),
  piece: (value) => text(value, (one) => z.uuid().safeParse(one).success, "this is no piece."),
};

function text(
  value: unknown,
  fits: (text: string) => boolean,
  problem: string,
): { value: string } | { problem: string } {
  if (typeof value !== "string") return { problem: "this did not arrive as words." };
  const words = value.replace(/\s+/g, " ").trim();
  if (words.length > LINE_LIMIT) return { problem: `this is longer than ${LINE_LIMIT} characters.` };
  return words === "" || fits(words) ? { value: words } : { problem };
}

function isDate(value: string): boolean {
  try {
    return Temporal.PlainDate.from(value).toString() === value;
  } catch {
    return false;
  }
}

/**
 * Reads content that a browser sent, by the fields of the piece's kind. What cannot be kept at all
 * is a problem; what is merely incomplete is not, since a draft may be (see `fieldProblems`).
 */
export function readContent(
  fields: readonly Field[],
  json: unknown,
): { content: Content } | { problems: FieldProblem[] } {
  const shape = z.object({ title: z.string(), fields: z.record(z.string(), z.unknown()) }).safeParse(json);
  if (!shape.success) return { problems: [{ key: "title", sentence: "The text did not arrive whole." }] };
  const problems: FieldProblem[] = [];
  const title = shape.data.title.replace(/\s+/g, " ").trim();
  if (title === "") problems.push({ key: "title", sentence: "A piece needs a title." });
  if (title.length > TITLE_LIMIT * CHARACTER_MOST || countCharacters(title) > TITLE_LIMIT)
    problems.push({ key: "title", sentence: `The title is longer than ${TITLE_LIMIT} characters.` });
  const content: Content = { title, fields: {} };
  for (const field of fields) {
    const value = shape.data.fields[field.key];
    if (value === undefined || value === null) continue;
    const read = READERS[field.type](value, field);
    if ("problem" in read) problems.push({ key: field.key, sentence: `${field.name}: ${read.problem}` });
    else if (read.value !== "") content.fields[field.key] = read.value;
  }
  const known = new Set(fields.map((field) => field.key));
  for (const key of Object.keys(shape.data.fields)) {
    if (!known.has(key)) problems.push({ key, sentence: `There is no field "${key}" in this kind.` });
  }
  return problems.length > 0 ? { problems } : { content };
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
