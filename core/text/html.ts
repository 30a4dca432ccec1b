import { annotate, type ShownMark, type Span } from "./annotate.ts";
import type { Block } from "./block.ts";
import type { Manuscript, Picture } from "./manuscript.ts";
import { noteRuns } from "./note.ts";
import { textOf } from "./plain.ts";
import type { NodeName } from "./schema.ts";
import { marker, type Way, walker } from "./walk.ts";

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
 *
 * @param spans runs to be marked, for the workshop's eyes
 */
export function toHtml(manuscript: Manuscript, addressOf: AddressOf, spans: readonly Span[] = []): string {
  const notes: string[] = [];
  const note = (text: string) => {
    const n = notes.push(text);
    return `<sup id="note-ref-${n}"><a href="#note-${n}">${n}</a></sup>`;
  };
  const html = write(spans.length > 0 ? annotate(manuscript as Block, spans) : (manuscript as Block), {
    addressOf,
    note,
  });
  if (notes.length === 0) return html;
  const items = notes.map(
    (text, i) =>
      `<li id="note-${i + 1}"${preserved(text)}>${noteToHtml(text)} <a href="#note-ref-${i + 1}">back</a></li>`,
  );
  return `${html}<ol class="notes">${items.join("")}</ol>`;
}

const noteToHtml = (note: string) =>
  noteRuns(note)
    .map(({ words, emphasised }) => (emphasised ? `<em>${escapeHtml(words)}</em>` : escapeHtml(words)))
    .join("");

/** One block of a manuscript as HTML that stands by itself: a note carries its words with it. */
export function blockToHtml(block: Block, addressOf: AddressOf): string {
  return write(block, { addressOf, note: (text) => `<sup data-note="${escapeHtml(text)}">note</sup>` });
}

/** Words of a line as HTML, without the block they stand in. */
export const wordsToHtml = (words: readonly Block[], addressOf: AddressOf): string =>
  words.map((word) => blockToHtml(word, addressOf)).join("");

/** Makes text harmless in HTML, in elements and in quoted attributes. */
export function escapeHtml(text: string): string {
  return text.replace(/[&<>"']/g, (character) => `&#${character.charCodeAt(0)};`);
}

/** How what lies outside the words is written. */
interface Writing {
  addressOf: AddressOf;
  note(text: string): string;
}

type Html = Way<string, Writing>;

const within =
  (tag: string, attributes: (block: Block) => string = () => ""): Html =>
  (block, inside, writing) =>
    `<${tag}${attributes(block)}>${inside(writing).join("")}</${tag}>`;

const write = walker<NodeName, string, Writing>({
  doc: (_, inside, writing) => inside(writing).join(""),
  paragraph: within("p", whiteSpace),
  heading: (block, ...rest) => within(`h${Number(block.attrs?.level)}`, whiteSpace)(block, ...rest),
  blockquote: within("blockquote"),
  bulletList: within("ul"),
  orderedList: within("ol", ({ attrs }) => (attrs?.start === 1 ? "" : ` start="${Number(attrs?.start)}"`)),
  listItem: within("li"),
  horizontalRule: () => "<hr>",
  table: within("table"),
  tableRow: within("tr"),
  tableCell: within("td", spans),
  tableHeader: within("th", spans),
  text: (node) => marked(node, escapeHtml(node.text ?? "")),
  hardBreak: () => "<br>",
  note: ({ attrs }, _, writing) => writing.note(String(attrs?.text)),
  image: ({ attrs }, _, writing) => pictureToHtml(attrs as unknown as Picture, writing.addressOf),
});

const standing =
  (tag: string, more = "") =>
  (html: string, { attrs }: { attrs?: Record<string, unknown> }) =>
    `<${tag}${more} data-thread="${escapeHtml(String(attrs?.of))}">${html}</${tag}>`;

const marked = marker<string, ShownMark>({
  remark: standing("mark"),
  going: standing("del"),
  coming: standing("ins"),
  link: (html, { attrs }) => `<a href="${escapeHtml(String(attrs?.href))}">${html}</a>`,
  bold: (html) => `<strong>${html}</strong>`,
  italic: (html) => `<em>${html}</em>`,
});

/** A picture with its caption and credit below, in the width that fits where it is shown. */
export function pictureToHtml({ file, alt, caption, credit }: Picture, addressOf: AddressOf): string {
  const sources = PICTURE_WIDTHS.map((width) => `${escapeHtml(addressOf(file, width))} ${width}w`).join(", ");
  const src = escapeHtml(addressOf(file));
  const image = `<img src="${src}" srcset="${sources}" sizes="(min-width: 720px) 660px, 100vw" alt="${escapeHtml(alt)}" loading="lazy">`;
  const words = `${escapeHtml(caption)}${credit ? `<small>${escapeHtml(credit)}</small>` : ""}`;
  return `<figure>${image}${words ? `<figcaption${preserved(caption + credit)}>${words}</figcaption>` : ""}</figure>`;
}

function spans({ attrs = {} }: Block): string {
  return ["colspan", "rowspan"]
    .map((name) => (Number(attrs[name]) > 1 ? ` ${name}="${Number(attrs[name])}"` : ""))
    .join("");
}

/** Says that white space counts, where collapsing it would lose some or drop a block that holds nothing. */
const preserved = (text: string) => (/^$|^\s|\s$|\s\s/.test(text) ? ' style="white-space: pre-wrap"' : "");

function whiteSpace({ content = [] }: Block): string {
  return preserved(content.map((node) => (node.type === "note" ? "*" : textOf(node))).join(""));
}
