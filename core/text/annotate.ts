import { type Block, isTextBlock } from "./block.ts";
import type { Manuscript } from "./manuscript.ts";
import { textOf } from "./plain.ts";
import { countPoints } from "./points.ts";

/** A run of a field's text of which something is said, or for which other wording is proposed. */
export interface Span {
  id: string;
  /** Code points of the field's text, as an anchor's. */
  start: number;
  end: number;
  wording: Block[] | null;
}

/** Marks a text bears only where it is shown: what remarks stand on, what would go, what would come. */
export type ShownMark = "remark" | "going" | "coming";

/** A text with the runs marked that spans stand on, and proposed wordings behind the words they are for. */
export function annotate(manuscript: Manuscript, spans: readonly Span[]): Block {
  let at = 0;
  const write = (block: Block): Block => {
    if (!isTextBlock(block)) return block.content ? { ...block, content: block.content.map(write) } : block;
    const begin = at;
    const end = begin + countPoints(textOf(block));
    at = end + 1;
    const here = spans.filter((span) => span.start < end && span.end > begin);
    return here.length === 0 ? block : { ...block, content: annotated(block.content ?? [], begin, here) };
  };
  return write(manuscript as Block);
}

function annotated(content: readonly Block[], begin: number, spans: readonly Span[]): Block[] {
  let at = begin;
  const out: Block[] = [];
  for (const node of content) {
    const points = Array.from(textOf(node));
    const end = at + points.length;
    const cuts = spans.flatMap((span) => [span.start, span.end]).filter((cut) => cut > at && cut < end);
    const edges = [...new Set([at, ...cuts, end])].toSorted((a, b) => a - b);
    for (const [i, from] of edges.slice(0, -1).entries()) {
      const to = edges[i + 1] as number;
      const over = spans.filter((span) => span.start <= from && span.end >= to);
      const part = node.type === "text" ? { ...node, text: points.slice(from - at, to - at).join("") } : node;
      out.push(over.length > 0 ? shown(part, over.some((span) => span.wording) ? "going" : "remark", over) : part);
      for (const span of over)
        if (span.wording && span.end === to) out.push(...span.wording.map((word) => shown(word, "coming", [span])));
    }
    at = end;
  }
  return out;
}

const shown = (node: Block, type: ShownMark, spans: readonly Span[]): Block => ({
  ...node,
  marks: [{ type, attrs: { of: spans.map(({ id }) => id).join(" ") } }, ...(node.marks ?? [])],
});
