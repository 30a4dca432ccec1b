/** A node of a manuscript as JSON. */
export interface Block {
  type: string;
  attrs?: Record<string, unknown>;
  content?: Block[];
  text?: string;
  marks?: { type: string; attrs?: Record<string, unknown> }[];
}

/** Whether a block holds words rather than blocks. */
export const isTextBlock = (block: Block) => block.type === "paragraph" || block.type === "heading";
