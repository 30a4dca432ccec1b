import type { Block } from "./block.ts";
import type { NodeName } from "./schema.ts";
import { type Way, walker } from "./walk.ts";

const lines: Way<string, void> = (_, inside) => inside().join("\n");
const line: Way<string, void> = (_, inside) => inside().join("");
const nothing = () => "";

const plain = walker<NodeName, string, void>({
  doc: lines,
  paragraph: line,
  heading: line,
  blockquote: lines,
  bulletList: lines,
  orderedList: lines,
  listItem: lines,
  horizontalRule: nothing,
  table: lines,
  tableRow: lines,
  tableCell: lines,
  tableHeader: lines,
  text: ({ text = "" }) => text,
  hardBreak: () => "\n",
  note: () => " ",
  image: nothing,
});

/** A block's plain characters, a line for each block within. */
export const textOf = (block: Block): string => plain(block);
