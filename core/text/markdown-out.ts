import { MarkdownSerializer, type MarkdownSerializerState } from "prosemirror-markdown";
import { type Mark, Node } from "prosemirror-model";
import { type AddressOf, blockToHtml } from "./html.ts";
import type { Manuscript } from "./manuscript.ts";
import { fromMarkdown } from "./markdown.ts";
import { type MarkName, manuscriptSchema, type NodeName } from "./schema.ts";

/**
 * A manuscript as Markdown that gives the same manuscript back. Each block is written the plain way
 * and read again; a block Markdown has no words for (a picture with its credit, a cell of two
 * paragraphs, white space that counts) stands as a block of HTML, which Markdown allows.
 *
 * @param addressOf where pictures are fetched from; reading again needs to know them by it
 */
export function toMarkdown(manuscript: Manuscript, addressOf: AddressOf): string {
  const blocks = Node.fromJSON(manuscriptSchema, manuscript).children;
  const notes: string[] = [];
  const written: string[] = [];
  for (const [i, block] of blocks.entries()) {
    const plain = blocks[i - 1]?.type === block.type && isList(block) ? null : asPlain(block, notes.length);
    written.push(plain?.text ?? asHtml(block, addressOf));
    notes.push(...(plain?.notes ?? []));
  }
  const text = together(written, notes);
  return isSame(text, blocks)
    ? text
    : together(
        blocks.map((block) => asHtml(block, addressOf)),
        [],
      );
}

const isList = (block: Node) => /List$/.test(block.type.name);
const asHtml = (block: Node, addressOf: AddressOf) => blockToHtml(block.toJSON(), addressOf).replace(/\n/g, "&#10;");
const together = (blocks: readonly string[], notes: readonly string[]) =>
  `${[...blocks, ...notes.map((words, i) => `[^${i + 1}]: ${words}`)].join("\n\n")}\n`;

/** A block the plain way, if that says all of it. */
function asPlain(block: Node, notesBefore: number): { text: string; notes: string[] } | null {
  const notes: string[] = [];
  const note = (state: MarkdownSerializerState, { attrs }: Node) =>
    state.write(`[^${notesBefore + notes.push(attrs.text)}]`);
  const text = serializer(note).serialize(manuscriptSchema.node("doc", null, [block]));
  const earlier = Array.from({ length: notesBefore }, () => "");
  return isSame(together([text], [...earlier, ...notes]), [block]) ? { text, notes } : null;
}

const isSame = (text: string, blocks: readonly Node[]) =>
  JSON.stringify(fromMarkdown(text, (source) => /[0-9a-f]{64}/.exec(source)?.[0] ?? null)) ===
  JSON.stringify({
    title: null,
    manuscript: { type: "doc", content: blocks.map((block) => block.toJSON()) },
    leftOut: [],
  });

type Plain = (state: MarkdownSerializerState, node: Node) => void;

function serializer(note: Plain): MarkdownSerializer {
  const inside: Plain = (state, node) => state.renderContent(node);
  return new MarkdownSerializer(
    {
      doc: inside,
      paragraph: inlineBlock,
      heading: (state, node) => {
        state.write(`${"#".repeat(node.attrs.level)} `);
        inlineBlock(state, node);
      },
      blockquote: (state, node) => state.wrapBlock("> ", null, node, () => state.renderContent(node)),
      bulletList: (state, node) => state.renderList(node, "  ", () => "- "),
      orderedList: (state, node) => {
        const width = String(node.attrs.start + node.childCount - 1).length + 2;
        state.renderList(node, " ".repeat(width), (i) => `${node.attrs.start + i}.`.padEnd(width));
      },
      listItem: inside,
      horizontalRule: (state, node) => {
        state.write("---");
        state.closeBlock(node);
      },
      image: (state, node) => {
        // Nowhere does the plain way hold a picture's credit: this does not read back, and HTML is written.
        state.write(`![${state.esc(node.attrs.alt)}](${node.attrs.file})`);
        state.closeBlock(node);
      },
      table,
      // A table writes its rows and cells itself.
      tableRow: inside,
      tableCell: inside,
      tableHeader: inside,
      text: (state, node) => state.text(node.text ?? ""),
      hardBreak: (state) => state.write("\\\n"),
      note,
    } satisfies Record<NodeName, Plain>,
    {
      bold: { open: "**", close: "**", mixable: true, expelEnclosingWhitespace: true },
      italic: { open: "*", close: "*", mixable: true, expelEnclosingWhitespace: true },
      link: {
        open: "[",
        close: (_: MarkdownSerializerState, mark: Mark) => `](<${mark.attrs.href.replace(/[\\<>]/g, "\\$&")}>)`,
      },
    } satisfies Record<MarkName, object>,
    { hardBreakNodeName: "hardBreak", strict: true },
  );
}

function inlineBlock(state: MarkdownSerializerState, node: Node): void {
  state.renderInline(node);
  state.closeBlock(node);
}

/** A table with one paragraph in each cell and one row of heads; others do not read back and become HTML. */
function table(state: MarkdownSerializerState, node: Node): void {
  node.children.forEach((row, i) => {
    state.ensureNewLine();
    for (const cell of row.children) {
      state.write("| ");
      if (cell.firstChild) state.renderInline(cell.firstChild);
      state.write(" ");
    }
    state.write("|");
    if (i === 0) state.write(`\n${"|---".repeat(row.childCount)}|`);
  });
  state.closeBlock(node);
}
