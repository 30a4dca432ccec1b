import { type Attrs, type Mark, Node, Schema } from "prosemirror-model";

/** A manuscript as JSON: a ProseMirror document of `manuscriptSchema`. */
export type Manuscript = ReturnType<Node["toJSON"]>;

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
 * Reads a manuscript from parsed JSON, dropping attributes the schema does not know.
 *
 * @returns the manuscript, or a sentence that says why it is none
 */
export function readManuscript(json: unknown): { manuscript: Manuscript } | { problem: string } {
  if (JSON.stringify(json ?? null).length > LIMIT)
    return { problem: "The text is longer than two million characters." };
  try {
    const node = Node.fromJSON(manuscriptSchema, json);
    node.check();
    if (node.type.name !== "doc") return { problem: "The text is not a whole document." };
    return { manuscript: node.toJSON() };
  } catch {
    return { problem: "The text holds something the editor does not know." };
  }
}

/** A manuscript's plain words, a line for each block. */
export function plainText(manuscript: Manuscript): string {
  const node = Node.fromJSON(manuscriptSchema, manuscript);
  return node.textBetween(0, node.content.size, "\n", " ");
}

/** Whether a link may stand in a text: the web, mail, or a page of this site. */
export function safeAddress(address: string): boolean {
  return /^(https?:\/\/|mailto:|\/(?!\/)|#)/i.test(address);
}

/** A manuscript as escaped HTML; its notes stand as a numbered list at the end. */
export function toHtml(manuscript: Manuscript): string {
  const notes: string[] = [];
  const body = children(Node.fromJSON(manuscriptSchema, manuscript), notes);
  if (notes.length === 0) return body;
  const items = notes.map(
    (text, i) => `<li id="note-${i + 1}">${escapeHtml(text)} <a href="#note-ref-${i + 1}">back</a></li>`,
  );
  return `${body}<ol class="notes">${items.join("")}</ol>`;
}

/** Makes text harmless in HTML, in elements and in quoted attributes. */
export function escapeHtml(text: string): string {
  return text.replace(/[&<>"']/g, (character) => `&#${character.charCodeAt(0)};`);
}

const TAGS: Record<string, string> = {
  paragraph: "p",
  blockquote: "blockquote",
  bulletList: "ul",
  listItem: "li",
  table: "table",
  tableRow: "tr",
};

function children(node: Node, notes: string[]): string {
  return node.children.map((child) => render(child, notes)).join("");
}

function render(node: Node, notes: string[]): string {
  const wrap = (tag: string, attributes = "") => `<${tag}${attributes}>${children(node, notes)}</${tag}>`;
  switch (node.type.name) {
    case "text":
      return node.marks.reduceRight(marked, escapeHtml(node.text ?? ""));
    case "hardBreak":
      return "<br>";
    case "horizontalRule":
      return "<hr>";
    case "heading":
      return wrap(`h${node.attrs.level}`);
    case "orderedList":
      return wrap("ol", node.attrs.start === 1 ? "" : ` start="${Number(node.attrs.start)}"`);
    case "tableCell":
      return wrap("td", spans(node.attrs));
    case "tableHeader":
      return wrap("th", spans(node.attrs));
    case "note": {
      notes.push(node.attrs.text);
      const n = notes.length;
      return `<sup id="note-ref-${n}"><a href="#note-${n}">${n}</a></sup>`;
    }
    default:
      return wrap(TAGS[node.type.name] as string);
  }
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

function oneOf(allowed: unknown[], value: unknown) {
  if (!allowed.includes(value)) throw new RangeError(`not allowed here: ${String(value)}`);
}
