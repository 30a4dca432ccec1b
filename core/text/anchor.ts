import { z } from "zod";
import { groupBy } from "../words/group.ts";
import type { Value } from "./fields.ts";
import { countPoints, plainOf, type Stretch, survivors } from "./survivors.ts";

/** So many code points before and after a run are quoted with it. */
export const CONTEXT = 32;
/** The longest run a remark can stand on, in code points. */
export const RUN_MOST = 5_000;
/** Quoted words are compared in so many places of a text at most. */
const PLACES = 100;
/** No text is longer than this, in code points. */
const TEXT_MOST = 2_000_000;

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

/** What a selection sends: two positions in the text it was made in. */
export const rangeSchema = z
  .strictObject({ start: z.int().min(0).max(TEXT_MOST), end: z.int().min(0).max(TEXT_MOST) })
  .refine(({ start, end }) => start < end, "Select some words.")
  .refine(({ start, end }) => end - start <= RUN_MOST, `A remark stands on at most ${RUN_MOST} characters.`);

export type Range = z.infer<typeof rangeSchema>;

/** A text that counts code points. */
interface Counted {
  text: string;
  length: number;
  slice(start: number, end: number): string;
}

function counted(text: string): Counted {
  if (countPoints(text) === text.length) return { text, length: text.length, slice: (a, b) => text.slice(a, b) };
  const points = Array.from(text);
  return { text, length: points.length, slice: (a, b) => points.slice(a, b).join("") };
}

/** The anchor of a run of a field's text; null where there is no such run. */
export const anchorAt = (value: Value | undefined, range: Range): Anchor | null =>
  placed(counted(plainOf(value)), range);

function placed(text: Counted, { start, end }: Range): Anchor | null {
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

function found(text: Counted, { exact, prefix = "", suffix = "" }: Partial<Quote> & { exact: string }) {
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

/**
 * Carries anchors over a change of their field: words outside a run change, and it keeps exactly its
 * words; words inside change, and it reaches from its first to its last surviving word; its block moves,
 * and it moves along; all its words go, and it is gone, until they stand again where they stood.
 *
 * @param anchors in the text before
 * @param stretches what lasted, where it is known; found by comparison otherwise
 * @returns the same anchors in the text after, in the same order
 */
export function carry(
  anchors: readonly Anchor[],
  before: Value | undefined,
  after: Value | undefined,
  stretches: readonly Stretch[] = survivors(before, after),
): Anchor[] {
  const [was, now] = [counted(plainOf(before)), counted(plainOf(after))];
  const came = comings(stretches, now.length);
  return anchors.map((anchor) => {
    const range = anchor.gone ? null : surviving(anchor, stretches, was);
    const standing = range && placed(now, range);
    return standing ?? again(anchor, now, anchor.gone ? came : [[0, now.length]]) ?? { ...anchor, gone: true };
  });
}

/** What of a text came with a change: runs between what lasted. @param length the text's, in code points */
function comings(stretches: readonly Stretch[], length: number): [start: number, end: number][] {
  const gaps: [number, number][] = [];
  let at = 0;
  for (const { to, length: kept } of [...stretches.toSorted((a, b) => a.to - b.to), { to: length, length: 0 }]) {
    if (to > at) gaps.push([at, to]);
    at = Math.max(at, to + kept);
  }
  return gaps;
}

/** Where lost words stand again with what stood before or after them, in one of the parts of a text. */
function again(anchor: Anchor, now: Counted, parts: readonly [start: number, end: number][]): Anchor | null {
  const reach = countPoints(anchor.exact) + CONTEXT;
  for (const [start, end] of parts) {
    const from = Math.max(0, start - reach);
    const there = found(counted(now.slice(from, end + reach)), anchor);
    if (there?.inContext) return placed(now, { start: there.anchor.start + from, end: there.anchor.end + from });
  }
  return null;
}

const WORD = /[\p{L}\p{N}\p{M}]/u;
const NO_WORDS_BEFORE = /^[^\p{L}\p{N}\p{M}]*/u;
const NO_WORDS_AFTER = /[^\p{L}\p{N}\p{M}]*$/u;

/** Where a run's words stand now; null when none is left. What a move tore apart stays with the greater part. */
function surviving({ start, end, exact }: Anchor, stretches: readonly Stretch[], was: Counted): Range | null {
  const wordsOf = (one: Stretch) => was.slice(one.from, one.from + one.length);
  const worded = (one: Stretch) => !WORD.test(exact) || WORD.test(wordsOf(one));
  const atEdge = (one: Stretch) => one.from === start || one.from + one.length === end;
  const all = within(start, end, stretches);
  const left = all.some(worded) ? all.filter((one) => worded(one) || atEdge(one)) : [];
  const parts = [...groupBy(left, ({ move }) => move).values()].toSorted((a, b) => lengthOf(b) - lengthOf(a));
  const [first, last] = [parts[0]?.[0], parts[0]?.at(-1)];
  if (!first || !last) return null;
  const before = first.from === start ? "" : NO_WORDS_BEFORE.exec(wordsOf(first))?.[0];
  const after = last.from + last.length === end ? "" : NO_WORDS_AFTER.exec(wordsOf(last))?.[0];
  return { start: first.to + countPoints(before ?? ""), end: last.to + last.length - countPoints(after ?? "") };
}

const lengthOf = (stretches: readonly Stretch[]) => stretches.reduce((total, { length }) => total + length, 0);

/** The stretches that reach into a run, cut to it. */
function within(start: number, end: number, stretches: readonly Stretch[]): Stretch[] {
  let low = 0;
  let high = stretches.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    const { from, length } = stretches[middle] as Stretch;
    if (from + length <= start) low = middle + 1;
    else high = middle;
  }
  const cut: Stretch[] = [];
  for (let at = low; at < stretches.length; at++) {
    const { from, to, length, move } = stretches[at] as Stretch;
    if (from >= end) break;
    const begin = Math.max(from, start);
    cut.push({ from: begin, to: to + begin - from, length: Math.min(from + length, end) - begin, move });
  }
  return cut;
}
