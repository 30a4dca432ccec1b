import MarkdownIt from "markdown-it";
import { escapeHtml } from "./html.ts";
import { fromHtml, type ImportedDraft, type PictureOf } from "./html-in.ts";

// Addresses are judged by who reads the HTML; tags within a line are words somebody wrote.
const markdown = MarkdownIt("default", { html: true, linkify: false });
markdown.validateLink = () => true;
markdown.disable("html_inline");

/** Notes: `[^key]` in the text, `[^key]: words` on a line of its own. */
markdown.inline.ruler.before("link", "note", (state, silent) => {
  const found = /^\[\^([^\]\s]+)\]/.exec(state.src.slice(state.pos, state.pos + 200));
  const text = found?.[1] && (state.env.notes as Map<string, string>).get(found[1]);
  if (!found || !text) return false;
  if (!silent) state.push("note", "", 0).content = text;
  state.pos += found[0].length;
  return true;
});
markdown.renderer.rules.note = (tokens, at) => `<sup data-note="${escapeHtml(tokens[at]?.content ?? "")}"></sup>`;

/**
 * Reads a Markdown text (CommonMark with tables, notes, and blocks of HTML) into a manuscript: as the
 * HTML it stands for, so that all foreign texts are read by one reader.
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
  return fromHtml(markdown.render(text, { notes }), pictureOf);
}
