import { type Attrs, type Mark, Node } from "prosemirror-model";
import { type Manuscript, manuscriptSchema, type Picture } from "./manuscript.ts";

/** Widths in pixels in which pictures are kept for readers, beside the picture as it came. */
export const PICTURE_WIDTHS = [480, 960, 1600];

/** Where a file is fetched from; with a width, the picture made no wider than that. */
export type AddressOf = (file: string, width?: number) => string;

/** Where files are fetched from below an address: a released piece's, a guest's, or that of the whole house. */
export const filesBelow =
  (address: string): AddressOf =>
  (file, width) =>
    `${address}/files/${file}${width ? `?width=${width}` : ""}`;

/** The file an address that `filesBelow` made leads to; null for any other address. */
export const fileAt = (address: string) => /\/files\/([0-9a-f]{64})(\?width=\d+)?$/.exec(address)?.[1] ?? null;

/**
 * A manuscript as escaped HTML; its notes stand as a numbered list at the end. White space that HTML
 * would swallow is marked as preserved, so `fromHtml` gives the same manuscript back.
 */
export function toHtml(manuscript: Manuscript, addressOf: AddressOf): string {
  const notes: string[] = [];
  const note = (text: string) => {
    const n = notes.push(text);
    return `<sup id="note-ref-${n}"><a href="#note-${n}">${n}</a></sup>`;
  };
  const html = children(Node.fromJSON(manuscriptSchema, manuscript), { addressOf, note });
  if (notes.length === 0) return html;
  const items = notes.map(
    (text, i) =>
      `<li id="note-${i + 1}"${preserved(text)}>${escapeHtml(text)} <a href="#note-ref-${i + 1}">back</a></li>`,
  );
  return `${html}<ol class="notes">${items.join("")}</ol>`;
}

/** One block of a manuscript as HTML that stands by itself: a note carries its words with it. */
export function blockToHtml(block: Node, addressOf: AddressOf): string {
  return render(block, { addressOf, note: (text) => `<sup data-note="${escapeHtml(text)}">note</sup>` });
}

/** Makes text harmless in HTML, in elements and in quoted attributes. */
export function escapeHtml(text: string): string {
  return text.replace(/[&<>"']/g, (character) => `&#${character.charCodeAt(0)};`);
}

const TAGS: Record<string, string> = {
  blockquote: "blockquote",
  bulletList: "ul",
  listItem: "li",
  table: "table",
  tableRow: "tr",
};

/** How what lies outside the words is written. */
interface Writing {
  addressOf: AddressOf;
  note(text: string): string;
}

const children = (node: Node, writing: Writing) => node.children.map((child) => render(child, writing)).join("");

function render(node: Node, writing: Writing): string {
  const wrap = (tag: string, attributes = "") => `<${tag}${attributes}>${children(node, writing)}</${tag}>`;
  switch (node.type.name) {
    case "text":
      return node.marks.reduceRight(marked, escapeHtml(node.text ?? ""));
    case "hardBreak":
      return "<br>";
    case "horizontalRule":
      return "<hr>";
    case "paragraph":
      return wrap("p", whiteSpace(node));
    case "heading":
      return wrap(`h${node.attrs.level}`, whiteSpace(node));
    case "orderedList":
      return wrap("ol", node.attrs.start === 1 ? "" : ` start="${Number(node.attrs.start)}"`);
    case "tableCell":
      return wrap("td", spans(node.attrs));
    case "tableHeader":
      return wrap("th", spans(node.attrs));
    case "note":
      return writing.note(node.attrs.text);
    case "image":
      return pictureToHtml(node.attrs as unknown as Picture, writing.addressOf);
    default:
      return wrap(TAGS[node.type.name] as string);
  }
}

/** A picture with its caption and credit below, in the width that fits where it is shown. */
export function pictureToHtml({ file, alt, caption, credit }: Picture, addressOf: AddressOf): string {
  const sources = PICTURE_WIDTHS.map((width) => `${escapeHtml(addressOf(file, width))} ${width}w`).join(", ");
  const src = escapeHtml(addressOf(file));
  const image = `<img src="${src}" srcset="${sources}" sizes="(min-width: 720px) 660px, 100vw" alt="${escapeHtml(alt)}" loading="lazy">`;
  const words = `${escapeHtml(caption)}${credit ? `<small>${escapeHtml(credit)}</small>` : ""}`;
  return `<figure>${image}${words ? `<figcaption${preserved(caption + credit)}>${words}</figcaption>` : ""}</figure>`;
}

function marked(html: string, mark: Mark): string {
  if (mark.type.name === "link") return `<a href="${escapeHtml(mark.attrs.href)}">${html}</a>`;
  return mark.type.name === "bold" ? `<strong>${html}</strong>` : `<em>${html}</em>`;
}

function spans(attributes: Attrs): string {
  return ["colspan", "rowspan"]
    .map((name) => (Number(attributes[name]) > 1 ? ` ${name}="${Number(attributes[name])}"` : ""))
    .join("");
}

/** Says that white space counts, where collapsing it would lose some or drop a block that holds nothing. */
const preserved = (text: string) => (/^$|^\s|\s$|\s\s/.test(text) ? ' style="white-space: pre-wrap"' : "");

const whiteSpace = (block: Node) =>
  preserved(
    block.textBetween(0, block.content.size, undefined, (leaf) => (leaf.type.name === "hardBreak" ? "\n" : "*")),
  );
