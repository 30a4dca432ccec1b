import { diffArrays } from "diff";
import { type Block, isTextBlock } from "./block.ts";
import type { Manuscript } from "./manuscript.ts";
import { alike, family, type Pairing, pair } from "./pairing.ts";
import { textOf } from "./plain.ts";
import { compareRuns, joined, MOST_EDITS, type Run, runSide } from "./runs.ts";

/** A block without what it holds. */
export type Shell = Omit<Block, "content">;

/** A block that is in both texts: as it was, with other words, or with other blocks in it. */
export type Lasting =
  | { kind: "kept"; node: Block }
  | { kind: "reworded"; before: Shell; after: Shell; runs: Run[] }
  | { kind: "inside"; before: Shell; after: Shell; changes: Change[] };

/** What became of one block. A moved one stands twice under one number: where it left and where it arrived. */
export type Change =
  | Lasting
  | { kind: "removed" | "added"; node: Block }
  | { kind: "left"; node: Block; move: number }
  | { kind: "arrived"; change: Lasting; move: number };

/**
 * What must change in one manuscript to make it another: blocks kept, removed, added, moved; within a
 * changed block by words, within a list or table by its blocks.
 *
 * The longest common sequence of equal blocks is kept (Myers 1986, by the `diff` package). In the
 * gaps between, equal blocks that went and came are moves; blocks of like words are paired in order
 * and compared within; of the rest, those alike enough across gaps are moves with changes.
 */
export function compareManuscripts(before: Manuscript, after: Manuscript): Change[] {
  return compareBlocks((before as Block).content ?? [], (after as Block).content ?? [], false);
}

/**
 * Carries a difference out.
 *
 * @throws Error when `before` is not the text the difference was taken from
 */
export function applyChanges(before: Manuscript, changes: readonly Change[]): Manuscript {
  const from = changes.flatMap(beforeOf);
  if (JSON.stringify(from) !== JSON.stringify((before as Block).content ?? []))
    throw new Error("this difference was taken from another text");
  return { ...before, content: changes.flatMap(afterOf) };
}

/** How many words came and went, moved ones not counted. */
export function countChanged(changes: readonly Change[], count: (text: string) => number) {
  const total = { added: 0, removed: 0 };
  const add = (kind: "added" | "removed", blocks: readonly Block[]) => {
    total[kind] += count(blocks.map((block) => textOf(block)).join(""));
  };
  const look = (change: Change): void => {
    if (change.kind === "added" || change.kind === "removed") add(change.kind, [change.node]);
    else if (change.kind === "arrived") look(change.change);
    else if (change.kind === "inside") change.changes.forEach(look);
    else if (change.kind === "reworded")
      for (const run of change.runs) if (run.kind === "added" || run.kind === "removed") add(run.kind, run.content);
  };
  changes.forEach(look);
  return total;
}

function beforeOf(change: Change): Block[] {
  if (change.kind === "added" || change.kind === "arrived") return [];
  return "node" in change ? [change.node] : [side(change, "before")];
}

function afterOf(change: Change): Block[] {
  if (change.kind === "removed" || change.kind === "left") return [];
  if (change.kind === "arrived") return afterOf(change.change);
  return "node" in change ? [change.node] : [side(change, "after")];
}

/** One of the two forms of a block that changed. */
export function side(change: Exclude<Lasting, { kind: "kept" }>, of: "before" | "after"): Block {
  const content =
    change.kind === "reworded"
      ? joined(change.runs.flatMap((run) => runSide(run, of)))
      : change.changes.flatMap(of === "before" ? lastingBefore : afterOf);
  return content.length > 0 ? { ...change[of], content } : { ...change[of] };
}

const lastingBefore = (change: Change) => beforeOf(change);

function compareBlocks(before: readonly Block[], after: readonly Block[], byPlace: boolean): Change[] {
  const keys = [before, after].map((blocks) => blocks.map((block) => JSON.stringify(block)));
  const [from = [], to = []] = keys;
  const parts = diffArrays(from, to, { maxEditLength: MOST_EDITS }) ?? [
    { value: from, removed: true },
    { value: to, added: true },
  ];
  const gaps: { gone: number[]; come: number[]; kept: number | null }[] = [{ gone: [], come: [], kept: null }];
  let [a, b] = [0, 0];
  for (const part of parts) {
    for (const _ of part.value) {
      const gap = gaps.at(-1) as (typeof gaps)[number];
      if (part.removed) gap.gone.push(a++);
      else if (part.added) gap.come.push(b++);
      else {
        gap.kept = a++;
        b += 1;
        gaps.push({ gone: [], come: [], kept: null });
      }
    }
  }
  const pairs = match(before, after, from, to, gaps, byPlace);
  return gaps.flatMap((gap) => [
    ...weave(gap, pairs, before, after),
    ...(gap.kept === null ? [] : [{ kind: "kept" as const, node: before[gap.kept] as Block }]),
  ]);
}

/** For each block that came, the one it came from, and whether it stayed in its place among the others. */
type Pairs = Map<number, { from: number; moved: boolean }>;

function match(
  before: readonly Block[],
  after: readonly Block[],
  from: readonly string[],
  to: readonly string[],
  gaps: readonly { gone: number[]; come: number[] }[],
  byPlace: boolean,
): Pairs {
  const pairs: Pairs = new Map();
  const taken = new Set<number>();
  const take = (pairing: Pairing, moved: boolean) => {
    pairs.set(pairing.to, { from: pairing.from, moved });
    taken.add(pairing.from);
  };
  const open = () => ({
    gone: gaps.flatMap((gap) => gap.gone).filter((i) => !taken.has(i)),
    come: gaps.flatMap((gap) => gap.come).filter((i) => !pairs.has(i)),
  });
  const goneByKey = new Map(open().gone.map((i) => [from[i], i]));
  for (const i of open().come) {
    const at = goneByKey.get(to[i] as string);
    if (at === undefined || taken.has(at) || textOf(after[i] as Block).trim() === "") continue;
    take({ from: at, to: i }, true);
  }
  for (const gap of gaps) {
    const rest = { gone: gap.gone.filter((i) => !taken.has(i)), come: gap.come.filter((i) => !pairs.has(i)) };
    const inPlace = byPlace && rest.gone.length === rest.come.length;
    const found = inPlace
      ? rest.gone.map((at, i) => ({ from: at, to: rest.come[i] as number })).filter(sameFamily)
      : pair(rest.gone, rest.come, before, after);
    for (const one of found) take(one, false);
  }
  for (const one of alike(open().gone, open().come, before, after)) take(one, true);
  return pairs;

  function sameFamily({ from: at, to: then }: Pairing): boolean {
    return family(before[at] as Block) === family(after[then] as Block);
  }
}

/** The changes of one gap, what went before what came, each pair where the new block stands. */
function weave(
  gap: { gone: number[]; come: number[] },
  pairs: Pairs,
  before: readonly Block[],
  after: readonly Block[],
): Change[] {
  const movedTo = new Map([...pairs].flatMap(([to, { from, moved }]) => (moved ? [[from, to]] : [])));
  const staying = new Set([...pairs.values()].flatMap(({ from, moved }) => (moved ? [] : [from])));
  const changes: Change[] = [];
  let next = 0;
  const goneUntil = (end: number) => {
    for (; next < gap.gone.length && (gap.gone[next] as number) < end; next++) {
      const at = gap.gone[next] as number;
      const node = before[at] as Block;
      const move = movedTo.get(at);
      if (move !== undefined) changes.push({ kind: "left", node, move });
      else if (!staying.has(at)) changes.push({ kind: "removed", node });
    }
  };
  const stays = gap.come.flatMap((at) => (pairs.get(at)?.moved === false ? [at] : []));
  for (const at of gap.come) {
    const node = after[at] as Block;
    const source = pairs.get(at);
    const change = source && within(before[source.from] as Block, node);
    if (stays[0] === at) stays.shift();
    goneUntil(source?.moved === false ? source.from : (pairs.get(stays[0] ?? -1)?.from ?? Number.POSITIVE_INFINITY));
    if (!change) changes.push({ kind: "added", node });
    else changes.push(source.moved ? { kind: "arrived", change, move: at } : change);
  }
  goneUntil(Number.POSITIVE_INFINITY);
  return changes;
}

function within(before: Block, after: Block): Lasting {
  if (JSON.stringify(before) === JSON.stringify(after)) return { kind: "kept", node: before };
  const { content: old = [], ...oldShell } = before;
  const { content: now = [], ...newShell } = after;
  if (isTextBlock(before)) return { kind: "reworded", before: oldShell, after: newShell, runs: compareRuns(old, now) };
  const changes = compareBlocks(old, now, before.type === "tableRow");
  return { kind: "inside", before: oldShell, after: newShell, changes };
}
