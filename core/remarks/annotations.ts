import type { Anchor } from "../text/anchor.ts";
import type { Block } from "../text/block.ts";
import { textOf } from "../text/plain.ts";

/** A thread as it leaves the house. */
export interface Leaving {
  id: string;
  author: string;
  field: string | null;
  anchor: Anchor | null;
  proposal: Block[] | null;
  settledAt: number | null;
  comments: readonly { author: string; body: string; at: number; editedAt: number | null }[];
}

/** Epoch milliseconds as RFC 3339. @returns undefined where there is none, which JSON leaves out */
const instant = (at: number | null) => (at === null ? undefined : new Date(at).toISOString());

/**
 * Remarks as a page of W3C Web Annotations (Web Annotation Data Model, 2017): words by a position and a
 * quote, replies as further bodies, proposed wording as a body whose purpose is editing.
 *
 * @param address of the piece; a remark and a field are named by fragments of it
 */
export function annotationsOf(address: string, threads: readonly Leaving[]) {
  return {
    "@context": "http://www.w3.org/ns/anno.jsonld",
    id: `${address}/remarks.jsonld`,
    type: "AnnotationPage",
    items: threads.map((thread) => annotation(address, thread)),
  };
}

function annotation(address: string, { id, author, field, anchor, proposal, comments }: Leaving) {
  const [first] = comments;
  const said = comments
    .filter(({ body }) => body !== "")
    .map((one, i) => ({
      type: "TextualBody",
      value: one.body,
      format: "text/plain",
      purpose: i === 0 ? "commenting" : "replying",
      creator: person(one.author),
      created: instant(one.at),
      modified: instant(one.editedAt),
    }));
  const wording = proposal && {
    type: "TextualBody",
    value: textOf({ type: "paragraph", content: proposal }),
    format: "text/plain",
    purpose: "editing",
  };
  return {
    id: `${address}#remark-${id}`,
    type: "Annotation",
    motivation: proposal ? "editing" : "commenting",
    creator: person(author),
    created: instant(first?.at ?? null),
    body: wording ? [wording, ...said] : said,
    target: anchor
      ? { source: `${address}#${field}`, selector: selectors(anchor) }
      : field
        ? `${address}#${field}`
        : address,
  };
}

const person = (name: string) => ({ type: "Person", name });

const selectors = ({ start, end, exact, prefix, suffix, gone }: Anchor) => {
  const quote = { type: "TextQuoteSelector", exact, prefix, suffix };
  return gone ? [quote] : [{ type: "TextPositionSelector", start, end }, quote];
};
