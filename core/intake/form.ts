import { z } from "zod";
import { type Field, fieldSchema } from "../text/field.ts";
import { type Content, type FieldProblem, isManuscript } from "../text/fields.ts";
import type { Manuscript } from "../text/manuscript.ts";
import { textOf } from "../text/plain.ts";
import { readContent } from "../text/reading.ts";
import { takeSchema } from "../time/take-format.ts";

/** What a request can be asked for in: what fits in a plain form. */
export const ASKED_TYPES = ["line", "manuscript", "number", "date", "choice", "link"] as const;

/** Whom a form is open to: anybody who has its address, people of the team, or the addresses named. */
export const OPEN_TO = ["anybody", "team", "invited"] as const;
export type OpenTo = (typeof OPEN_TO)[number];

/** A form has so many fields at most, and a long answer so many characters. */
export const [FIELDS_MOST, ANSWER_MOST] = [30, 20_000];

const askedField = fieldSchema.refine(
  ({ type }) => (ASKED_TYPES as readonly string[]).includes(type),
  "a request brings no such field",
);

/** What a form asks of whoever requests something, and what becomes of it. */
export const requestFormSchema = z.strictObject({
  name: z.string().trim().min(1, "A form needs a name.").max(80, "At most 80 characters fit."),
  about: z.string().trim().max(1_000, "At most 1000 characters fit.").default(""),
  fields: z.array(askedField).max(FIELDS_MOST, `A form has at most ${FIELDS_MOST} fields.`),
  /** The working time needed before anything asked for here can be out. */
  lead: takeSchema.nullable(),
  /** The working time within which the team answers. */
  promise: takeSchema.nullable(),
  openTo: z.enum(OPEN_TO),
  invited: z.array(z.email("This is no address.").max(200)).max(500, "At most 500 addresses fit."),
});

/** Plain words as a text: a paragraph for every run of lines without an empty one between. */
export function paragraphsOf(words: string): Manuscript {
  const paragraphs = words
    .replace(/\r\n?/g, "\n")
    .split(/\n{2,}/)
    .map((one) => one.replace(/\s+/g, " ").trim())
    .filter(Boolean);
  return {
    type: "doc",
    content: (paragraphs.length > 0 ? paragraphs : [""]).map((text) => ({
      type: "paragraph",
      ...(text && { content: [{ type: "text", text }] }),
    })),
  };
}

/**
 * Reads what was filled in, each answer as the words of its field; what is left empty is left out. Whether it is
 * complete is another question (`missingIn`).
 */
export function readAnswers(
  fields: readonly Field[],
  title: string,
  given: Readonly<Record<string, string>>,
): { content: Content } | { problems: FieldProblem[] } {
  const values: Record<string, unknown> = {};
  const problems: FieldProblem[] = [];
  for (const { key, type, name } of fields) {
    const words = (given[key] ?? "").trim();
    if (words === "") continue;
    if (words.length > ANSWER_MOST)
      problems.push({ key, sentence: `${name}: this is longer than ${ANSWER_MOST} characters.` });
    else if (type === "manuscript") values[key] = paragraphsOf(words);
    else values[key] = type === "number" ? Number(words.replace(",", ".")) : words;
  }
  if (problems.length > 0) return { problems };
  return readContent(fields, { title, fields: values });
}

/** What was filled in, as the words a form shows: the inverse of `readAnswers`. */
export const answersOf = (fields: readonly Field[], { fields: values }: Content): Record<string, string> =>
  Object.fromEntries(fields.map(({ key }) => [key, wordsOf(values[key])]));

function wordsOf(value: Content["fields"][string] | undefined): string {
  if (value === undefined) return "";
  if (!isManuscript(value)) return String(value);
  return (value.content ?? []).map(textOf).join("\n\n");
}

/** What differs between two fillings of a form: the field, what stood there, what stands there. */
export function amended(
  fields: readonly Field[],
  before: Content,
  after: Content,
): { name: string; was: string; is: string }[] {
  const [was, is] = [answersOf(fields, before), answersOf(fields, after)];
  const changes = fields.map(({ key, name }) => ({ name, was: was[key] ?? "", is: is[key] ?? "" }));
  return [{ name: "Title", was: before.title, is: after.title }, ...changes].filter((one) => one.was !== one.is);
}
