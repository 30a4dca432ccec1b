import MarkdownIt from "markdown-it";
import type Token from "markdown-it/lib/token.mjs";
import { MarkdownParser } from "prosemirror-markdown";
import { type Manuscript, manuscriptSchema, safeAddress } from "./manuscript.ts";

/** A Markdown text as a draft: its first heading is the title; what could not be kept is said. */
export interface ImportedDraft {
  title: string | null;
  manuscript: Manuscript;
  /** A sentence for each sort of thing left out. */
  leftOut: string[];
}

const markdown = MarkdownIt("default", { html: false, linkify: false });
markdown.validateLink = safeAddress;
markdown.disable(["code", "fence", "strikethrough", "backticks"]);

/** Notes: `[^key]` in the text, `[^key]: words` on a line of its own. */
markdown.inline.ruler.before("link", "note", (state, silent) => {
  const found = /^\[\^([^\]\s]+)\]/.exec(state.src.slice(state.pos));
  const text = found?.[1] && (state.env.notes as Map<string, string>).get(found[1]);
  if (!found || !text) return false;
  if (!silent) state.push("note", "", 0).content = text;
  state.pos += found[0].length;
  return true;
});

/** A cell holds paragraphs, a Markdown cell bare words: the paragraph is put around them. */
markdown.core.ruler.push("cells", (state) => {
  state.tokens = state.tokens.flatMap((token, i, all) => {
    if (token.type !== "inline" || !/^t[hd]_open$/.test(all[i - 1]?.type ?? "")) return [token];
    return [new state.Token("paragraph_open", "p", 1), token, new state.Token("paragraph_close", "p", -1)];
  });
});

const parser = new MarkdownParser(manuscriptSchema, markdown, {
  paragraph: { block: "paragraph" },
  heading: { block: "heading", getAttrs: (token) => ({ level: Math.min(4, Math.max(2, Number(token.tag.slice(1)))) }) },
  blockquote: { block: "blockquote" },
  bullet_list: { block: "bulletList" },
  ordered_list: { block: "orderedList", getAttrs: (token) => ({ start: Number(token.attrGet("start") ?? 1) }) },
  list_item: { block: "listItem" },
  table: { block: "table" },
  thead: { ignore: true },
  tbody: { ignore: true },
  tr: { block: "tableRow" },
  th: { block: "tableHeader" },
  td: { block: "tableCell" },
  hr: { node: "horizontalRule" },
  hardbreak: { node: "hardBreak" },
  image: { ignore: true, noCloseToken: true },
  note: { node: "note", getAttrs: (token: Token) => ({ text: token.content }) },
  strong: { mark: "bold" },
  em: { mark: "italic" },
  link: { mark: "link", getAttrs: (token) => ({ href: token.attrGet("href") }) },
});

/**
 * Reads a Markdown text (CommonMark with tables and notes) into a manuscript, structure kept.
 *
 * @param source UTF-8 text
 */
export function fromMarkdown(source: string): ImportedDraft {
  const notes = new Map<string, string>();
  const text = source
    .replace(/^\uFEFF/, "")
    .replace(/^\[\^([^\]\s]+)\]:[ \t]*(.+)$/gm, (_, key: string, words: string) => {
      notes.set(key, words.trim());
      return "";
    });
  const node = parser.parse(text, { notes });
  const first = node.firstChild;
  const titled = first?.type.name === "heading" && /^\s*(#\s|[^\n]+\n=+\s*$)/m.test(text);
  const rest = titled ? node.cut(first.nodeSize) : node;
  return {
    title: titled ? first.textContent.slice(0, 200) : null,
    manuscript: (rest.content.size > 0
      ? rest
      : manuscriptSchema.node("doc", null, [manuscriptSchema.node("paragraph")])
    ).toJSON(),
    leftOut: leftOut(text),
  };
}

function leftOut(text: string): string[] {
  const pictures = text.match(/!\[[^\]]*\]\([^)]*\)/g)?.length ?? 0;
  const blocks = text.match(/^(```|~~~)/gm)?.length ?? 0;
  return [
    ...(pictures
      ? [`${pictures === 1 ? "One picture was" : `${pictures} pictures were`} left out: add pictures in the editor.`]
      : []),
    ...(blocks ? ["Blocks of code were kept as plain paragraphs."] : []),
  ];
}
