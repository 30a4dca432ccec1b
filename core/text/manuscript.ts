import { Node, Schema } from "prosemirror-model";

/** A manuscript as JSON: a ProseMirror document of `manuscriptSchema`. */
export type Manuscript = ReturnType<Node["toJSON"]>;

/** A picture in a text or a field: its file, and what readers are told of it. */
export interface Picture {
  file: string;
  alt: string;
  caption: string;
  credit: string;
}

const LIMIT = 2_000_000;
const cell = { colspan: { default: 1 }, rowspan: { default: 1 } };

/**
 * What a manuscript may hold. The editor's extensions carry the same names, so a document goes
 * from one to the other as JSON; here it is checked before it is kept.
 */
export const manuscriptSchema = new Schema({
  nodes: {
    doc: { content: "block+" },
    paragraph: { content: "inline*", group: "block" },
    heading: {
      content: "inline*",
      group: "block",
      attrs: { level: { default: 2, validate: (level) => oneOf([2, 3, 4], level) } },
    },
    blockquote: { content: "block+", group: "block" },
    bulletList: { content: "listItem+", group: "block" },
    orderedList: { content: "listItem+", group: "block", attrs: { start: { default: 1, validate: "number" } } },
    listItem: { content: "paragraph block*" },
    horizontalRule: { group: "block" },
    table: { content: "tableRow+", group: "block" },
    tableRow: { content: "(tableCell | tableHeader)*" },
    tableCell: { content: "block+", attrs: cell },
    tableHeader: { content: "block+", attrs: cell },
    text: { group: "inline" },
    hardBreak: { inline: true, group: "inline" },
    note: { inline: true, group: "inline", atom: true, attrs: { text: { validate: "string" } } },
    image: {
      group: "block",
      atom: true,
      attrs: {
        file: { validate: (file) => oneOf([true], typeof file === "string" && isFile(file)) },
        alt: { default: "", validate: "string" },
        caption: { default: "", validate: "string" },
        credit: { default: "", validate: "string" },
      },
    },
  },
  marks: {
    link: {
      attrs: { href: { validate: (href) => oneOf([true], typeof href === "string" && safeAddress(href)) } },
      inclusive: false,
    },
    bold: {},
    italic: {},
  },
});

/** A manuscript with nothing in it. */
export const emptyManuscript = (): Manuscript => ({ type: "doc", content: [{ type: "paragraph" }] });

/**
 * Reads a manuscript from parsed JSON, dropping attributes the schema does not know and characters
 * no text has (controls, halves of characters); a line break within words becomes a space.
 *
 * @returns the manuscript, or a sentence that says why it is none
 */
export function readManuscript(json: unknown): { manuscript: Manuscript } | { problem: string } {
  const written = JSON.stringify(json ?? null);
  if (written.length > LIMIT) return { problem: "The text is longer than two million characters." };
  try {
    const node = Node.fromJSON(manuscriptSchema, JSON.parse(written, cleaned));
    node.check();
    if (node.type.name !== "doc") return { problem: "The text is not a whole document." };
    return { manuscript: node.toJSON() };
  } catch {
    return { problem: "The text holds something the editor does not know." };
  }
}

/** Whether a string names a stored file: the SHA-256 of its bytes, in hexadecimal. */
export const isFile = (name: string) => /^[0-9a-f]{64}$/.test(name);

/** A manuscript's plain words, a line for each block. */
export function plainText(manuscript: Manuscript): string {
  const node = Node.fromJSON(manuscriptSchema, manuscript);
  return node.textBetween(0, node.content.size, "\n", " ");
}

/** Whether a link may stand in a text: the web, mail, or a page of this site. */
export function safeAddress(address: string): boolean {
  return /^(https?:\/\/|mailto:|\/(?!\/)|#)/i.test(address);
}

// biome-ignore lint/suspicious/noControlCharactersInRegex: these are what is to be dropped
const CONTROLS = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f\ufffe\uffff]/g;

const cleaned = (_: string, value: unknown) =>
  typeof value === "string"
    ? value
        .toWellFormed()
        .replace(/[\t\n\r]/g, " ")
        .replace(CONTROLS, "")
    : value;

function oneOf(allowed: unknown[], value: unknown) {
  if (!allowed.includes(value)) throw new RangeError(`not allowed here: ${String(value)}`);
}
