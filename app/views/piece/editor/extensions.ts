import { type AnyExtension, Extension, Node } from "@tiptap/core";
import { TableKit } from "@tiptap/extension-table";
import StarterKit from "@tiptap/starter-kit";
import { search } from "prosemirror-search";
import { addressOf } from "#app/views/text/address.ts";
import { fileAt } from "#core/text/html.ts";
import { safeAddress } from "#core/text/manuscript.ts";
import { Standing } from "./standing.ts";

/** A note: words that stand at the end of the text, and a number where they belong. */
export const Note = Node.create({
  name: "note",
  group: "inline",
  inline: true,
  atom: true,
  addAttributes: () => ({
    text: {
      default: "",
      parseHTML: (element) => element.getAttribute("data-note"),
      renderHTML: ({ text }) => ({ "data-note": text, title: text }),
    },
  }),
  parseHTML: () => [{ tag: "[data-note]" }],
  renderHTML: ({ HTMLAttributes }) => ["span", { ...HTMLAttributes, class: "note-mark" }, "[note]"],
});

/** A picture with its words below; what it shows is fetched from the piece. */
const Image = Node.create({
  name: "image",
  group: "block",
  atom: true,
  draggable: true,
  addAttributes: () =>
    Object.fromEntries(["file", "alt", "caption", "credit"].map((name) => [name, { default: "", rendered: false }])),
  // As `core/text/html` writes a picture, and as the editor shows it below.
  parseHTML: () => [
    {
      tag: "figure",
      getAttrs: (figure) => {
        const image = figure.querySelector("img");
        const file = fileAt(image?.getAttribute("src") ?? "");
        const words = figure.querySelector("figcaption");
        const credit = words?.querySelector("small")?.textContent ?? "";
        const caption = (words?.textContent ?? "").slice(0, credit ? -credit.length : undefined);
        return file ? { file, alt: image?.getAttribute("alt") ?? "", caption, credit } : false;
      },
    },
  ],
  renderHTML: ({ node: { attrs } }) => [
    "figure",
    {},
    ["img", { src: addressOf(attrs.file, 960), alt: attrs.alt }],
    ["figcaption", {}, attrs.caption, ["small", {}, attrs.credit]],
  ],
});

/** Finds words in the text and marks them; the bar above the text asks for it. */
const Finding = Extension.create({ name: "finding", addProseMirrorPlugins: () => [search()] });

/** What one can write; the names agree with `core/text/manuscript`, and a test compares them. */
export const EXTENSIONS: AnyExtension[] = [
  StarterKit.configure({
    code: false,
    codeBlock: false,
    strike: false,
    underline: false,
    trailingNode: false,
    heading: { levels: [2, 3, 4] },
    link: { openOnClick: false, isAllowedUri: (address) => safeAddress(address) },
  }),
  TableKit.configure({ table: { resizable: false } }),
  Note,
  Image,
  Finding,
  Standing,
];
