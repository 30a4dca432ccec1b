import MarkdownIt from "markdown-it";
import type Token from "markdown-it/lib/token.mjs";
import { MarkdownParser } from "prosemirror-markdown";
import type { Node } from "prosemirror-model";
import { escapeHtml } from "./html.ts";
import { asManuscript, blocksFromHtml, type ImportedDraft, type PictureOf } from "./html-in.ts";
import { manuscriptSchema, safeAddress } from "./manuscript.ts";

const markdown = MarkdownIt("default", { html: true, linkify: false });
markdown.validateLink = safeAddress;
markdown.disable(["code", "fence", "strikethrough", "backticks", "html_inline"]);

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

/** A parser of what markdown-it has already cut into tokens. */
const parse = (tokens: Token[]): readonly Node[] =>
  tokens.length > 0
    ? new MarkdownParser(manuscriptSchema, { parse: () => tokens } as never, RULES).parse("").children
    : [];

const RULES: ConstructorParameters<typeof MarkdownParser>[2] = {
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
  html_block: { ignore: true, noCloseToken: true },
};

/**
 * Reads a Markdown text (CommonMark with tables, notes, and blocks of HTML) into a manuscript, structure kept.
 *
 * @param source UTF-8 text
 */
export function fromMarkdown(source: string, pictureOf: PictureOf = () => null): ImportedDraft {
  const notes = new Map<string, string>();
  const text = source
    .replace(/^\uFEFF/, "")
    .replace(/^\[\^([^\]\s]+)\]:[ \t]*(.+)$/gm, (_, key: string, words: string) => {
      notes.set(key, words.trim());
      return "";
    });
  const tokens = markdown.parse(text, { notes });
  const [first] = tokens;
  const titled = first?.type === "heading_open" && first.tag === "h1";
  const blocks = blocksOf(titled ? tokens.slice(3) : tokens, pictureOf);
  return {
    title: titled ? (parse(tokens.slice(0, 3))[0]?.textContent.slice(0, 200) ?? null) : null,
    manuscript: asManuscript(blocks),
    leftOut: leftOut(text, tokens.filter((_, i) => pictureOf(lonePicture(tokens, i)?.src ?? "")).length),
  };
}

/** The blocks of tokens; a block of HTML is read as HTML, a paragraph that is one picture as that picture. */
function blocksOf(tokens: Token[], pictureOf: PictureOf): Node[] {
  const blocks: Node[] = [];
  let from = 0;
  tokens.forEach((token, i) => {
    const image = lonePicture(tokens, i);
    if (token.level > 0 || (token.type !== "html_block" && !image)) return;
    blocks.push(...parse(tokens.slice(from, i)));
    const html = image ? `<img src="${escapeHtml(image.src)}" alt="${escapeHtml(image.alt)}">` : token.content;
    blocks.push(...blocksFromHtml(html, pictureOf));
    from = i + (image ? 3 : 1);
  });
  return [...blocks, ...parse(tokens.slice(from))];
}

function lonePicture(tokens: readonly Token[], at: number): { src: string; alt: string } | null {
  const [inside, ...more] = tokens[at + 1]?.children ?? [];
  if (tokens[at]?.type !== "paragraph_open" || inside?.type !== "image" || more.length > 0) return null;
  return { src: String(inside.attrGet("src")), alt: inside.content };
}

/** @param kept how many pictures stand in the manuscript */
function leftOut(text: string, kept: number): string[] {
  const pictures = (text.match(/!\[[^\]]*\]\([^)]*\)/g)?.length ?? 0) - kept;
  const blocks = text.match(/^(```|~~~)/gm)?.length ?? 0;
  return [
    ...(pictures > 0
      ? [`${pictures === 1 ? "One picture was" : `${pictures} pictures were`} left out: add pictures in the editor.`]
      : []),
    ...(blocks ? ["Blocks of code were kept as plain paragraphs."] : []),
  ];
}
