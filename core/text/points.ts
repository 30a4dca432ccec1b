import { type Block, isTextBlock } from "./block.ts";
import { isManuscript, type Value } from "./fields.ts";
import { textOf } from "./plain.ts";

/**
 * A field's value as the text that positions count in: its headings, paragraphs, items and cells joined
 * by one line feed. A note is one character, a picture none.
 */
export const plainOf = (value: Value | undefined): string => leavesOf(asManuscript(value)).map(textOf).join("\n");

/** The blocks of a manuscript that hold words, in the order they stand. */
export function leavesOf(block: Block): Block[] {
  return isTextBlock(block) ? [block] : (block.content ?? []).flatMap(leavesOf);
}

/** A field's value as a manuscript: words of one line are its only paragraph. */
export function asManuscript(value: Value | undefined): Block {
  if (isManuscript(value)) return value as Block;
  const text = typeof value === "string" || typeof value === "number" ? String(value) : "";
  return { type: "doc", content: [{ type: "paragraph", content: text === "" ? [] : [{ type: "text", text }] }] };
}

/** How many code points a text has; an emoji cut in half counts as one. */
export function countPoints(text: string): number {
  if (!/[\ud800-\udfff]/.test(text)) return text.length;
  let count = 0;
  for (const _ of text) count += 1;
  return count;
}
