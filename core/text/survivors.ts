import type { Block } from "./block.ts";
import { type Change, compareManuscripts, type Lasting } from "./diff.ts";
import type { Value } from "./fields.ts";
import type { Manuscript } from "./manuscript.ts";
import { textOf } from "./plain.ts";
import { asManuscript, countPoints, leavesOf } from "./points.ts";
import { type Run, runSide } from "./runs.ts";
import { spliceBetween } from "./splice.ts";

/** Characters in a row that are in both texts: where they stood and where they stand, in code points. */
export interface Stretch {
  from: number;
  to: number;
  length: number;
  /** What moved along together bears one number; 0 is what stayed in its place. */
  move: number;
}

/** Changed parts longer than this together, in characters, are compared at their ends alone: a save holds no node. */
const COMPARED_MOST = 200_000;

/**
 * What of a field's words is still there, word by word, and where it stands now (see `compareManuscripts`).
 * What both texts begin and end with is not compared: a save changes few blocks of many.
 *
 * @returns the stretches in the order they stood, touching ones as one
 */
export function survivors(before: Value | undefined, after: Value | undefined): Stretch[] {
  const [was, now] = [asManuscript(before), asManuscript(after)];
  const { head, tail, blocks } = spliceBetween(was as Manuscript, now as Manuscript);
  const old = was.content ?? [];
  const [begin, middle, end] = [old.slice(0, head), old.slice(head, old.length - tail), old.slice(old.length - tail)];
  const found: Stretch[] = [];
  const size = begin.reduce((total, block) => total + sizeOf(block), 0);
  keep(found, { from: 0, to: 0, length: size, move: 0 });
  const [from, to] = between(found, middle, blocks, size);
  keep(found, { from, to, length: end.reduce((total, block) => total + sizeOf(block), 0), move: 0 });
  return merged(found);
}

/** Finds what lasts of the blocks that changed. @param at where they begin, in both texts @returns where they end in each */
function between(found: Stretch[], old: Block[], now: Block[], at: number): [from: number, to: number] {
  const [was, is] = [old, now].map((content) =>
    leavesOf({ type: "doc", content })
      .map((leaf) => `${textOf(leaf)}\n`)
      .join(""),
  ) as [string, string];
  if (was.length + is.length <= COMPARED_MOST) {
    const changes = compareManuscripts({ type: "doc", content: old }, { type: "doc", content: now });
    return follow(found, changes, { from: at, to: at, move: 0 });
  }
  const [before, after] = [Array.from(was), Array.from(is)];
  const most = Math.min(before.length, after.length);
  let head = 0;
  while (head < most && before[head] === after[head]) head += 1;
  let tail = 0;
  while (tail < most - head && before.at(-1 - tail) === after.at(-1 - tail)) tail += 1;
  const [from, to] = [at + before.length, at + after.length];
  keep(found, { from: at, to: at, length: head, move: 0 });
  keep(found, { from: from - tail, to: to - tail, length: tail, move: 0 });
  return [from, to];
}

/** The code points of a block's words, with the line feed after each part. */
const sizeOf = (block: Block): number =>
  leavesOf(block).reduce((total, leaf) => total + countPoints(textOf(leaf)) + 1, 0);

interface Place {
  from: number;
  to: number;
  move: number;
}

/** Finds what lasts in a list of blocks. @returns where both lists end */
function follow(found: Stretch[], changes: readonly Change[], place: Place): [from: number, to: number] {
  const left = new Map<number, number>();
  let { from, to } = place;
  for (const change of changes) {
    if (change.kind === "left") left.set(change.move, from);
    from += sizeBefore(change);
  }
  const end = from;
  from = place.from;
  for (const change of changes) {
    if (change.kind === "arrived")
      [, to] = last(found, change.change, { from: left.get(change.move) ?? from, to, move: change.move + 1 });
    else if (change.kind === "kept" || change.kind === "reworded" || change.kind === "inside")
      [from, to] = last(found, change, { from, to, move: place.move });
    else if (change.kind === "added") to += sizeOf(change.node);
    else from += sizeOf(change.node);
  }
  return [end, to];
}

function sizeBefore(change: Change): number {
  if (change.kind === "added" || change.kind === "arrived") return 0;
  if ("node" in change) return sizeOf(change.node);
  if (change.kind === "inside") return change.changes.reduce((total, one) => total + sizeBefore(one), 0);
  return change.runs.reduce((total, run) => total + runSize(run, "before"), 0) + 1;
}

const runSize = (run: Run, of: "before" | "after") =>
  countPoints(textOf({ type: "paragraph", content: runSide(run, of) }));

function last(found: Stretch[], change: Lasting, { from, to, move }: Place): [from: number, to: number] {
  if (change.kind === "inside") return follow(found, change.changes, { from, to, move });
  if (change.kind === "kept") {
    const length = sizeOf(change.node);
    keep(found, { from, to, length, move });
    return [from + length, to + length];
  }
  for (const run of change.runs) {
    const [was, now] = [runSize(run, "before"), runSize(run, "after")];
    if (was === now && (run.kind === "kept" || run.kind === "restyled")) keep(found, { from, to, length: was, move });
    from += was;
    to += now;
  }
  keep(found, { from, to, length: 1, move });
  return [from + 1, to + 1];
}

function keep(found: Stretch[], stretch: Stretch): void {
  if (stretch.length > 0) found.push(stretch);
}

function merged(found: readonly Stretch[]): Stretch[] {
  const out: Stretch[] = [];
  for (const one of found.toSorted((a, b) => a.from - b.from)) {
    const before = out.at(-1);
    const touches = before && before.from + before.length === one.from && before.to + before.length === one.to;
    if (touches) before.length += one.length;
    else out.push({ ...one });
  }
  return out;
}
