import { Node, Schema } from "prosemirror-model";
import { isFile, type Manuscript, safeAddress } from "./manuscript.ts";

/** A manuscript holds so many characters at most, as it is kept. */
const LIMIT = 2_000_000;
/** Blocks stand within each other no deeper than this: five lists in lists. */
const DEEPEST = 11;
/**
 * So many levels the JSON of such a text has at most: two for each block, six for words with a link.
 * The database takes 31, and three stand around a text where it is kept.
 */
const LEVELS = 2 * DEEPEST + 6;
const NODES = 200_000;
/** The longest note, or word said of a picture, in characters. */
const WORDS_MOST = 5_000;
/** The most columns or rows one cell spans. */
export const SPAN_MOST = 50;
/** The highest number a list begins at: nine digits, as in CommonMark. */
export const START_MOST = 999_999_999;
const span = { default: 1, validate: (value: unknown) => between(1, SPAN_MOST, value) };
const cell = { colspan: span, rowspan: span };
const words = (value: unknown) => oneOf([true], typeof value === "string" && value.length <= WORDS_MOST);

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
    orderedList: {
      content: "listItem+",
      group: "block",
      attrs: { start: { default: 1, validate: (start) => between(0, START_MOST, start) } },
    },
    listItem: { content: "paragraph block*" },
    horizontalRule: { group: "block" },
    table: { content: "tableRow+", group: "block" },
    tableRow: { content: "(tableCell | tableHeader)*" },
    tableCell: { content: "block+", attrs: cell },
    tableHeader: { content: "block+", attrs: cell },
    text: { group: "inline" },
    hardBreak: { inline: true, group: "inline" },
    note: { inline: true, group: "inline", atom: true, attrs: { text: { validate: words } } },
    image: {
      group: "block",
      atom: true,
      attrs: {
        file: { validate: (file) => oneOf([true], typeof file === "string" && isFile(file)) },
        alt: { default: "", validate: words },
        caption: { default: "", validate: words },
        credit: { default: "", validate: words },
      },
    },
  },
  marks: {
    link: {
      attrs: {
        href: {
          validate: (href) => oneOf([true], typeof href === "string" && href.length <= WORDS_MOST && safeAddress(href)),
        },
      },
      inclusive: false,
    },
    bold: {},
    italic: {},
  },
});

/** The names of what a manuscript is made of, and of what its words can be marked with. */
export type NodeName = NameIn<"nodes">;
export type MarkName = NameIn<"marks">;
type NameIn<Of extends "nodes" | "marks"> =
  typeof manuscriptSchema extends Schema<infer Nodes, infer Marks> ? { nodes: Nodes; marks: Marks }[Of] : never;

/**
 * Reads a manuscript from parsed JSON, dropping attributes the schema does not know and characters
 * no text has (controls, halves of characters); a line break within words becomes a space. What is
 * too deep, too much or too long is turned away before anything is computed from it.
 *
 * @returns the manuscript, or a sentence that says why it is none
 */
export function readManuscript(json: unknown): { manuscript: Manuscript } | { problem: string } {
  const unbounded = whyUnbounded(json);
  if (unbounded) return { problem: unbounded };
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

/** Why JSON cannot be a manuscript, by how deep and how much it is alone; found without recursion. */
function whyUnbounded(json: unknown): string | null {
  let level = [json];
  for (let depth = 0, seen = 0; level.length > 0; depth++) {
    if (depth > LEVELS) return `Lists, quotes and tables stand within each other more than ${DEEPEST} deep.`;
    seen += level.length;
    if (seen > 10 * NODES) return "The text has too many parts.";
    level = level.flatMap((value) => (typeof value === "object" && value !== null ? Object.values(value) : []));
  }
  return null;
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

function between(least: number, most: number, value: unknown) {
  oneOf([true], Number.isInteger(value) && Number(value) >= least && Number(value) <= most);
}

function oneOf(allowed: unknown[], value: unknown) {
  if (!allowed.includes(value)) throw new RangeError(`not allowed here: ${String(value)}`);
}
