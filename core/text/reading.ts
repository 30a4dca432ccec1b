import { Temporal } from "temporal-polyfill";
import { z } from "zod";
import type { Field } from "./field.ts";
import { type Content, type FieldProblem, TITLE_LIMIT, type Value } from "./fields.ts";
import { isFile, safeAddress } from "./manuscript.ts";
import { countCharacters } from "./measure.ts";
import { readManuscript } from "./schema.ts";

/** A character as a reader sees it, with all its accents, is written with so many units at most. */
const CHARACTER_MOST = 40;
const LINE_LIMIT = 2_000;

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
