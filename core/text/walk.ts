import type { Block } from "./block.ts";
import type { MarkName, NodeName } from "./schema.ts";

/** What stands among words. */
export type InlineName = "text" | "hardBreak" | "note";
/** What stands only inside a list or a table. */
export type PartName = "listItem" | "tableRow" | "tableCell" | "tableHeader";

const PARTS: Record<PartName, true> = { listItem: true, tableRow: true, tableCell: true, tableHeader: true };

/** Whether a node stands only inside a list or a table. */
export const isPart = (node: Block) => Object.hasOwn(PARTS, node.type);

type Mark = NonNullable<Block["marks"]>[number];

/** How a node is written: `inside` writes what it holds, under whatever that stands in. */
export type Way<Written, Under> = (node: Block, inside: (under: Under) => Written[], under: Under) => Written;

/**
 * Writes a text in some medium. There is a way for each node the schema knows, or for those that can
 * stand where the medium writes: one that is new to the schema does not compile until every medium has it.
 *
 * @returns writes a node, under what it stands in, with what it holds or with something instead;
 *   throws an Error for a node there is no way for
 */
export function walker<Name extends NodeName, Written, Under>(ways: Record<Name, Way<Written, Under>>) {
  const write = (node: Block, under: Under, instead?: Written[]): Written => {
    const way = Object.hasOwn(ways, node.type) && ways[node.type as Name];
    if (!way) throw new Error(`A ${node.type} cannot be written here.`);
    return way(node, (below) => instead ?? (node.content ?? []).map((child) => write(child, below)), under);
  };
  return write;
}

/** Puts a node's marks around its words, the first one outermost. @throws Error for a mark there is no way for */
export const marker =
  <Written, More extends string = never>(ways: Record<MarkName | More, (words: Written, mark: Mark) => Written>) =>
  ({ marks = [] }: Block, words: Written): Written =>
    marks.reduceRight((inner, mark) => {
      if (!Object.hasOwn(ways, mark.type)) throw new Error(`A text has no mark ${mark.type}.`);
      return ways[mark.type as MarkName](inner, mark);
    }, words);
