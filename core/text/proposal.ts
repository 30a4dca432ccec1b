import { Node } from "prosemirror-model";
import type { Anchor, Range } from "./anchor.ts";
import { type Block, isTextBlock } from "./block.ts";
import { isManuscript, type Value } from "./fields.ts";
import type { Manuscript } from "./manuscript.ts";
import { textOf } from "./plain.ts";
import { countPoints, leavesOf, plainOf } from "./points.ts";
import { joined } from "./runs.ts";
import { manuscriptSchema, readManuscript } from "./schema.ts";
import type { Stretch } from "./survivors.ts";

/** Other words for a run: what would stand there, as a line of a manuscript; none where the run would go. */
export interface Proposal {
  start: number;
  end: number;
  wording: Block[];
}

/** A proposed wording holds so many code points at most. */
export const WORDING_MOST = 4_000;

/** Reads a proposed wording from parsed JSON. @returns the words, or a sentence that says why they are none */
export function readWording(json: unknown): { wording: Block[] } | { problem: string } {
  const read = readManuscript({ type: "doc", content: [{ type: "paragraph", content: json }] });
  if ("problem" in read) return read;
  const wording = (read.manuscript as Block).content?.[0]?.content ?? [];
  if (countPoints(textOf({ type: "paragraph", content: wording })) > WORDING_MOST)
    return { problem: `A proposed wording has at most ${WORDING_MOST} characters.` };
  return { wording };
}

/** The words of a run as they stand, with their look; null where it does not lie within one block of the field. */
export function runOf(value: Value | undefined, { start, end }: Range): Block[] | null {
  if (!isManuscript(value)) {
    const points = Array.from(plainOf(value));
    return end > points.length ? null : [{ type: "text", text: points.slice(start, end).join("") }];
  }
  let at = 0;
  for (const leaf of leavesOf(value as Block)) {
    const length = countPoints(textOf(leaf));
    if (start >= at && end <= at + length) return cut(leaf.content ?? [], start - at, end - at);
    at += length + 1;
  }
  return null;
}

/** Why a proposal cannot be accepted; null where its run still holds the words it was made on. */
export type Unfit = "gone" | "changed";
export const unfit = (anchor: Anchor, madeOn: string): Unfit | null =>
  anchor.gone ? "gone" : anchor.exact === madeOn ? null : "changed";

/** Whether two are for the same words: alternatives, of which one can be accepted. */
export const overlap = (one: Range, other: Range): boolean => one.start < other.end && other.start < one.end;

/**
 * Puts proposed words where their runs stand.
 *
 * @param proposals none overlapping another, each within one block
 * @returns the field's value with all of them, and what of it lasted (see `carry`); the same in whatever order they are given
 */
export function acceptAll(
  value: Value | undefined,
  proposals: readonly Proposal[],
): { value: Value; stretches: Stretch[] } {
  const inOrder = proposals.toSorted((one, other) => one.start - other.start);
  const stretches: Stretch[] = [];
  let [from, to] = [0, 0];
  for (const { start, end, wording } of inOrder) {
    if (start > from) stretches.push({ from, to, length: start - from, move: 0 });
    to += start - from + countPoints(textOf({ type: "paragraph", content: wording }));
    from = end;
  }
  const rest = countPoints(plainOf(value)) - from;
  if (rest > 0) stretches.push({ from, to, length: rest, move: 0 });
  if (isManuscript(value)) return { value: worded(value, inOrder), stretches };
  const points = Array.from(plainOf(value));
  for (const { start, end, wording } of inOrder.toReversed())
    points.splice(start, end - start, textOf({ type: "paragraph", content: wording }));
  return { value: points.join(""), stretches };
}

function worded(manuscript: Manuscript, proposals: readonly Proposal[]): Manuscript {
  let at = 0;
  const write = (block: Block): Block => {
    if (!isTextBlock(block)) return block.content ? { ...block, content: block.content.map(write) } : block;
    const begin = at;
    const length = countPoints(textOf(block));
    at += length + 1;
    const here = proposals.filter(({ start, end }) => start >= begin && end <= begin + length);
    if (here.length === 0) return block;
    let done = 0;
    const content: Block[] = [];
    for (const { start, end, wording } of here) {
      content.push(...cut(block.content ?? [], done, start - begin), ...wording);
      done = end - begin;
    }
    content.push(...cut(block.content ?? [], done, length));
    const { content: _, ...shell } = block;
    return content.length > 0 ? { ...shell, content: joined(content) } : shell;
  };
  return Node.fromJSON(manuscriptSchema, write(manuscript as Block)).toJSON();
}

/** What of a line stands between two positions, in code points. */
function cut(content: readonly Block[], start: number, end: number): Block[] {
  let at = 0;
  return content.flatMap((node) => {
    const points = Array.from(textOf(node));
    const [from, to] = [Math.max(0, start - at), Math.min(points.length, end - at)];
    at += points.length;
    if (from >= to) return [];
    return node.type === "text" ? [{ ...node, text: points.slice(from, to).join("") }] : [node];
  });
}
