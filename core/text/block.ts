/** A node of a manuscript as JSON. */
export interface Block {
  type: string;
  attrs?: Record<string, unknown>;
  content?: Block[];
  text?: string;
  marks?: { type: string; attrs?: Record<string, unknown> }[];
}

/** A block's plain characters, a line for each block within. */
export function textOf(block: Block): string {
  if (block.type === "text") return block.text ?? "";
  if (block.type === "hardBreak") return "\n";
  if (block.type === "note") return " ";
  const inside = (block.content ?? []).map(textOf);
  return isTextBlock(block) ? inside.join("") : inside.join("\n");
}

/** Whether a block holds words rather than blocks. */
export const isTextBlock = (block: Block) => block.type === "paragraph" || block.type === "heading";
