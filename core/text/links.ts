import type { Block } from "./block.ts";
import { type Content, isManuscript } from "./fields.ts";

/** The addresses a content's texts lead to, each once, in the order in which they stand. */
export function linksOf(content: Content): string[] {
  const found = new Set<string>();
  for (const value of Object.values(content.fields)) if (isManuscript(value)) gather(value as Block, found);
  return [...found];
}

function gather(block: Block, found: Set<string>): void {
  for (const mark of block.marks ?? []) if (mark.type === "link") found.add(String(mark.attrs?.href));
  for (const child of block.content ?? []) gather(child, found);
}
