import type { Editor } from "@tiptap/core";
import { type Node as EditorNode, Fragment, Node } from "@tiptap/pm/model";
import { addressOf } from "#app/views/text/address.ts";
import type { Block } from "#core/text/block.ts";
import { blockToHtml, fileAt } from "#core/text/html.ts";
import { fromHtml } from "#core/text/html-in.ts";
import type { Manuscript } from "#core/text/manuscript.ts";
import { manuscriptSchema } from "#core/text/schema.ts";
import { spliceBetween } from "#core/text/splice.ts";

const known = new WeakMap<EditorNode, Block>();

/**
 * What the editor holds, as the core keeps it. A block the editor has not touched is the same object
 * as before, so that counting and comparing cost only what changed.
 */
export function manuscriptOf(doc: EditorNode): Manuscript {
  const content = doc.children.map((child) => {
    const block = known.get(child) ?? (Node.fromJSON(manuscriptSchema, child.toJSON()).toJSON() as Block);
    known.set(child, block);
    return block;
  });
  return { type: "doc", content };
}

/** Shows another text, touching only the blocks that differ: the cursor stays where it is, and no undo leads back. */
export function showManuscript(editor: Editor, manuscript: Manuscript): void {
  const { state, schema, view } = editor;
  const { head, tail, blocks } = spliceBetween(manuscriptOf(state.doc), manuscript);
  if (blocks.length === 0 && head + tail === state.doc.childCount) return;
  const size = (children: readonly EditorNode[]) => children.reduce((sum, child) => sum + child.nodeSize, 0);
  const all = state.doc.children;
  const to = state.doc.content.size - size(all.slice(all.length - tail));
  const put = Fragment.fromArray(blocks.map((block) => schema.nodeFromJSON(block)));
  const { tr } = state;
  tr.replaceWith(size(all.slice(0, head)), to, put);
  view.dispatch(tr.setMeta("addToHistory", false).setMeta("preventUpdate", true));
}

/**
 * What is pasted from elsewhere, with its structure and without its looks.
 *
 * @param leftOut hears what could not be kept
 */
export function cleanPasted(html: string, leftOut: (sentences: string[]) => void): string {
  if (html.includes("data-pm-slice")) return html;
  const draft = fromHtml(html, fileAt);
  leftOut(draft.leftOut);
  const title = draft.title && html.match(/<h1[\s>]/i) ? [manuscriptSchema.text(draft.title)] : [];
  const heading = title.length > 0 ? [manuscriptSchema.node("heading", { level: 2 }, title)] : [];
  const blocks = Node.fromJSON(manuscriptSchema, draft.manuscript).children;
  return [...heading, ...blocks].map((block) => blockToHtml(block.toJSON(), addressOf)).join("");
}
