import type { Range } from "#core/text/anchor.ts";
import { countPoints } from "#core/text/points.ts";

/** What stands among a text's words without being words of it: in a comparison also what went. */
const APART = ".notes, figure, ins[data-thread], del:not([data-thread]), .removed, .moved-away";

const isNote = (node: Node) => node instanceof HTMLElement && node.tagName === "SUP";
const countsOne = (node: Node) => isNote(node) || node.nodeName === "BR";

/** How many code points of a text a shown node stands for. */
function lengthOf(node: Node): number {
  if (node instanceof Text) return countPoints(node.data);
  if (countsOne(node)) return 1;
  if (node instanceof HTMLElement && node.matches(APART)) return 0;
  return [...node.childNodes].reduce((total, child) => total + lengthOf(child), 0);
}

/** The blocks of a shown text that hold words. */
const leavesIn = (root: HTMLElement) =>
  [...root.querySelectorAll<HTMLElement>("p, h2, h3, h4")].filter((leaf) => !leaf.closest(APART));

/** Where a point of the page lies in a shown text, in code points of it; null where it lies in none of its words. */
function pointAt(root: HTMLElement, node: Node, offset: number): number | null {
  let at = 0;
  for (const leaf of leavesIn(root)) {
    if (leaf.contains(node)) return at + before(leaf, node, offset);
    const follows = node.compareDocumentPosition(leaf) & Node.DOCUMENT_POSITION_FOLLOWING;
    if (follows && !node.contains(leaf)) return at;
    at += lengthOf(leaf) + 1;
  }
  return null;
}

function before(parent: Node, node: Node, offset: number): number {
  if (parent === node)
    return node instanceof Text
      ? countPoints(node.data.slice(0, offset))
      : [...node.childNodes].slice(0, offset).reduce((total, child) => total + lengthOf(child), 0);
  let at = 0;
  for (const child of parent.childNodes) {
    if (child.contains(node)) return at + (lengthOf(child) === 0 || countsOne(child) ? 0 : before(child, node, offset));
    at += lengthOf(child);
  }
  return at;
}

/** The run of a text as it is shown that a selection covers; null where it covers none, or reaches out of the text. */
export function runSelected(root: HTMLElement, selection: Selection): Range | null {
  if (selection.rangeCount === 0 || selection.isCollapsed) return null;
  const { startContainer, startOffset, endContainer, endOffset } = selection.getRangeAt(0);
  if (!root.contains(startContainer) || !root.contains(endContainer)) return null;
  const start = pointAt(root, startContainer, startOffset);
  const end =
    pointAt(root, endContainer, endOffset) ?? leavesIn(root).reduce((all, leaf) => all + lengthOf(leaf) + 1, -1);
  return start !== null && start < end ? { start, end } : null;
}

/** Where a run of a text stands on the page; null where it is not shown. */
export function rangeOf(root: HTMLElement, { start, end }: Range): globalThis.Range | null {
  const [from, to] = [placeOf(root, start), placeOf(root, end)];
  if (!from || !to) return null;
  const range = document.createRange();
  range.setStart(...from);
  range.setEnd(...to);
  return range;
}

function placeOf(root: HTMLElement, point: number): [node: Text, offset: number] | null {
  let at = 0;
  for (const leaf of leavesIn(root)) {
    const length = lengthOf(leaf);
    if (point <= at + length) return within(leaf, point - at);
    at += length + 1;
  }
  return null;
}

function within(parent: Node, point: number): [node: Text, offset: number] | null {
  let at = 0;
  for (const child of parent.childNodes) {
    const length = lengthOf(child);
    if (point <= at + length && length > 0 && !countsOne(child))
      return child instanceof Text
        ? [
            child,
            Array.from(child.data)
              .slice(0, point - at)
              .join("").length,
          ]
        : within(child, point - at);
    at += length;
  }
  return null;
}
