import { groupBy } from "../words/group.ts";
import { type Anchor, CONTEXT, type Counted, counted, found, placed, type Range } from "./anchor.ts";
import type { Value } from "./fields.ts";
import { countPoints, plainOf } from "./points.ts";
import { type Stretch, survivors } from "./survivors.ts";

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
