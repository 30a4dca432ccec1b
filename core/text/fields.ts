import { z } from "zod";
import { type Manuscript, plainText, readManuscript } from "./manuscript.ts";
import { countCharacters, countWords } from "./measure.ts";

/** One field of a kind of piece, with its guidance and limits. */
export const fieldSchema = z.strictObject({
  key: z.string().regex(/^[a-z0-9-]+$/),
  name: z.string().min(1).max(80),
  type: z.enum(["line", "manuscript"]),
  guidance: z.string().max(300).optional(),
  required: z.boolean().default(false),
  minWords: z.int().min(1).optional(),
  maxWords: z.int().min(1).optional(),
});

export type Field = z.infer<typeof fieldSchema>;

/** What a version holds: a title, and a value for each field of its kind. */
export interface Content {
  title: string;
  fields: Record<string, string | Manuscript>;
}

export const TITLE_LIMIT = 200;
const LINE_LIMIT = 2_000;

/** One thing a content lacks or exceeds; `key` is the field's, or `title`. */
export interface FieldProblem {
  key: string;
  sentence: string;
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
  if (countCharacters(title) > TITLE_LIMIT)
    problems.push({ key: "title", sentence: `The title is longer than ${TITLE_LIMIT} characters.` });
  const content: Content = { title, fields: {} };
  for (const field of fields) {
    const value = shape.data.fields[field.key];
    if (value === undefined || value === null) continue;
    if (field.type === "manuscript") {
      const read = readManuscript(value);
      if ("problem" in read) problems.push({ key: field.key, sentence: `${field.name}: ${read.problem}` });
      else content.fields[field.key] = read.manuscript;
    } else if (typeof value !== "string" || value.length > LINE_LIMIT) {
      problems.push({ key: field.key, sentence: `${field.name} is longer than ${LINE_LIMIT} characters.` });
    } else {
      content.fields[field.key] = value.trim();
    }
  }
  const known = new Set(fields.map((field) => field.key));
  for (const key of Object.keys(shape.data.fields)) {
    if (!known.has(key)) problems.push({ key, sentence: `There is no field "${key}" in this kind.` });
  }
  return problems.length > 0 ? { problems } : { content };
}

/** How many words each field of a content holds, by the field's key. */
export type WordCounts = Record<string, number>;

/** Counts a content's words, field by field. */
export function countFields(content: Content): WordCounts {
  const words = (value: string | Manuscript) => countWords(typeof value === "string" ? value : plainText(value));
  return Object.fromEntries(Object.entries(content.fields).map(([key, value]) => [key, words(value)]));
}

/** What stands between a content and its kind's limits: missing fields, too few words, too many. */
export function fieldProblems(fields: readonly Field[], counts: WordCounts): FieldProblem[] {
  return fields.flatMap((field) => {
    const words = counts[field.key] ?? 0;
    const has = `${field.name} has ${words} ${words === 1 ? "word" : "words"}`;
    const problem = (sentence: string) => [{ key: field.key, sentence }];
    if (words === 0) return field.required ? problem(`${field.name} is empty`) : [];
    if (field.maxWords && words > field.maxWords) return problem(`${has}, at most ${field.maxWords} fit`);
    if (field.minWords && words < field.minWords) return problem(`${has}, at least ${field.minWords} are wanted`);
    return [];
  });
}
