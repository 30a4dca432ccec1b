import { z } from "zod";
import type { Manuscript } from "../text/manuscript.ts";
import { fromMarkdown } from "../text/markdown.ts";
import { textOf } from "../text/plain.ts";
import { ERRANDS, type Errand } from "./errand.ts";

/** So many bytes an assistant may answer. */
export const ANSWER_BYTES = 400_000;
/** So long a text of an assistant's is, in characters. */
const TEXT_MOST = 60_000;

/** Something an assistant has to say of a text: on words of it, or on the whole. */
export interface Point {
  quote: string | null;
  says: string;
}

/** What an assistant brought, as far as it is of use: a text, words, or points; with its reasons. */
export interface Brought {
  manuscript?: Manuscript;
  words?: string[];
  points?: Point[];
  reasons: string[];
  /** What could not be kept of its text, a sentence each. */
  leftOut: string[];
}

const words = (most: number) =>
  z
    .string()
    .max(most)
    .transform((text) => text.replace(/\s+/g, " ").trim());

/** The shapes of what may come back (`docs/outside.md`). What else it holds is not looked at. */
const answerSchema = z.object({
  text: z.string().max(TEXT_MOST).optional(),
  words: z.array(words(80)).max(40).optional(),
  points: z
    .array(z.object({ quote: z.string().max(300).nullish(), says: words(600) }))
    .max(40)
    .optional(),
  reasons: z.array(words(400)).max(12).default([]),
  cost: words(60).optional(),
});

const NOTHING = "It answered nothing one could use.";

/**
 * Reads what an assistant answered. It is words of a stranger: nothing in it is done, scripts and looks are dropped,
 * and what does not have the shape asked for is no answer.
 *
 * @param json the body as it came
 * @returns what it brought and what it says it cost; or a sentence that says what is wrong with it
 */
export function readAnswer(
  errand: Errand,
  json: string,
): { brought: Brought; cost: string | null } | { problem: string; cost: string | null } {
  const read = answerSchema.safeParse(parsed(json));
  if (!read.success) return { problem: NOTHING, cost: null };
  const { text, words, points, reasons, cost = null } = read.data;
  const said = { reasons: [...new Set(reasons.filter(Boolean))], leftOut: [] as string[] };
  const { brings } = ERRANDS[errand];
  if (brings === "text") {
    const { manuscript, title, leftOut } = fromMarkdown(text ?? "");
    if (textOf(manuscript).trim() === "") return { problem: NOTHING, cost };
    const dropped = title === null ? [] : [`Its heading “${title}” is not taken: a piece's title is its people's.`];
    return { brought: { ...said, manuscript, leftOut: [...dropped, ...leftOut] }, cost };
  }
  if (brings === "words") {
    const found = [...new Set((words ?? []).filter(Boolean))];
    return found.length > 0 ? { brought: { ...said, words: found }, cost } : { problem: NOTHING, cost };
  }
  const found = (points ?? []).filter((one) => one.says !== "").map(({ quote = null, says }) => ({ quote, says }));
  // To have nothing to say of a text is an answer where it says why.
  if (found.length === 0 && said.reasons.length === 0) return { problem: NOTHING, cost };
  return { brought: { ...said, points: found }, cost };
}

function parsed(json: string): unknown {
  try {
    return JSON.parse(json);
  } catch {
    return null;
  }
}
