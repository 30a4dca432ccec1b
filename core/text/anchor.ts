import type { z } from "zod";
import type { Value } from "./fields.ts";
import { countPoints, plainOf } from "./points.ts";
import type { rangeSchema } from "./range-format.ts";

/** So many code points before and after a run are quoted with it. */
export const CONTEXT = 32;
/** The longest run a remark can stand on, in code points. */
export const RUN_MOST = 5_000;
/** Quoted words are compared in so many places of a text at most. */
const PLACES = 100;

/** The words a remark stands on, and what stands around them (`TextQuoteSelector` of the W3C Web Annotation model). */
export interface Quote {
  exact: string;
  prefix: string;
  suffix: string;
}

/**
 * Where a remark on words stands in its field: code points of the field's text (see `plainOf`), `start`
 * inclusive, `end` exclusive (`TextPositionSelector`), with what is quoted there. Once its words are
 * gone, position and quote are those where it stood last.
 */
export interface Anchor extends Quote {
  start: number;
  end: number;
  gone: boolean;
}

/** Two positions in a text. */
export type Range = z.infer<typeof rangeSchema>;

/** A text that counts code points. */
export interface Counted {
  text: string;
  length: number;
  slice(start: number, end: number): string;
}

/** A text whose code points are counted once. */
export function counted(text: string): Counted {
  if (countPoints(text) === text.length) return { text, length: text.length, slice: (a, b) => text.slice(a, b) };
  const points = Array.from(text);
  return { text, length: points.length, slice: (a, b) => points.slice(a, b).join("") };
}

/** The anchor of a run of a field's text; null where there is no such run. */
export const anchorAt = (value: Value | undefined, range: Range): Anchor | null =>
  placed(counted(plainOf(value)), range);

/** The anchor of a run of a text; null where there is no such run. */
export function placed(text: Counted, { start, end }: Range): Anchor | null {
  if (start < 0 || start >= end || end > text.length) return null;
  return {
    start,
    end,
    exact: text.slice(start, end),
    prefix: text.slice(Math.max(0, start - CONTEXT), start),
    suffix: text.slice(end, end + CONTEXT),
    gone: false,
  };
}

/**
 * Finds quoted words in a field's text: of several places the one whose surroundings agree the furthest
 * with the quoted ones, the first of equal ones.
 *
 * @returns where they stand; null where they do not
 */
export function find(value: Value | undefined, quote: Partial<Quote> & { exact: string }): Anchor | null {
  return found(counted(plainOf(value)), quote)?.anchor ?? null;
}

/** The same in a text that is counted, and whether what stood before or after it stands there too. */
export function found(text: Counted, { exact, prefix = "", suffix = "" }: Partial<Quote> & { exact: string }) {
  let best: { at: number; before: number; after: number } | null = null;
  let at = exact === "" ? -1 : text.text.indexOf(exact);
  for (let places = 0; at >= 0 && places < PLACES; places++, at = text.text.indexOf(exact, at + 1)) {
    const before = commonEnd(text.text.slice(Math.max(0, at - prefix.length), at), prefix);
    const after = commonStart(text.text.slice(at + exact.length, at + exact.length + suffix.length), suffix);
    if (!best || before + after > best.before + best.after) best = { at, before, after };
  }
  if (!best) return null;
  const start = countPoints(text.text.slice(0, best.at));
  const anchor = placed(text, { start, end: start + countPoints(exact) });
  return anchor && { anchor, inContext: best.before === prefix.length || best.after === suffix.length };
}

function commonStart(one: string, other: string): number {
  let length = 0;
  while (length < one.length && length < other.length && one[length] === other[length]) length += 1;
  return length;
}

function commonEnd(one: string, other: string): number {
  let length = 0;
  while (length < one.length && length < other.length && one.at(-1 - length) === other.at(-1 - length)) length += 1;
  return length;
}
