import type { Block } from "#core/text/block.ts";
import { type Content, isManuscript } from "#core/text/fields.ts";
import { escapeHtml, filesBelow } from "#core/text/html.ts";
import { toMarkdown } from "#core/text/markdown-out.ts";
import { textOf } from "#core/text/plain.ts";
import { isFact, sayValue } from "#core/text/values.ts";
import { bodyHtml } from "../reader/shown.ts";
import { editionDocx, type Gathered } from "./docx-out.ts";

type Piece = Gathered["parts"][number]["pieces"][number];

/** How an edition is written in each form in which it is handed over. */
export const EDITION_WRITERS = { txt: asText, md: asMarkdown, html: asMail, docx: editionDocx } as const;

/** Plain text: titles underlined, a blank line between what stands apart. */
function asText({ title, note, parts }: Gathered): string {
  const lines = [title, "=".repeat(title.length), ""];
  if (note) lines.push(note, "");
  for (const { name, pieces } of parts) {
    lines.push("", name.toUpperCase(), "");
    for (const piece of pieces) {
      const { title: named } = piece.content;
      lines.push(named, "-".repeat(named.length), ...factsOf(piece), ...textsOf(piece.content).map(textOf), "");
    }
  }
  return `${lines
    .join("\n")
    .replace(/\n{3,}/g, "\n\n")
    .trim()}\n`;
}

/** Markdown (CommonMark); the headings of texts stay below those of the parts. */
function asMarkdown({ title, note, parts }: Gathered): string {
  const written = parts.flatMap(({ name, pieces }) => [
    `## ${plain(name)}`,
    ...pieces.flatMap((piece) => {
      const facts = factsOf(piece).map((fact) => `- ${plain(fact)}`);
      const { content, address } = withPictures(piece);
      const texts = textsOf(content).map((text) => toMarkdown(text, filesBelow(address)).trim());
      return [`### ${plain(content.title)}`, ...(facts.length > 0 ? [facts.join("\n")] : []), ...texts];
    }),
  ]);
  return `${[`# ${plain(title)}`, ...(note ? [`*${plain(note)}*`] : []), ...written].join("\n\n")}\n`;
}

/** HTML to be sent by mail or pasted into what sends it: no script, no style sheet, widths that fit a phone. */
function asMail({ title, note, parts }: Gathered): string {
  const body = parts.flatMap(({ name, pieces }) => [
    `<h2 style="${HEADING}">${escapeHtml(name)}</h2>`,
    ...pieces.flatMap((piece) => {
      const facts = factsOf(piece).map((fact) => `<p>${escapeHtml(fact)}</p>`);
      const { content, address } = withPictures(piece);
      const html = bodyHtml({ fields: piece.fields, content }, filesBelow(address)).replaceAll(
        "<img ",
        `<img style="${IMAGE}" `,
      );
      return [`<h3>${escapeHtml(content.title)}</h3>`, ...facts, html];
    }),
  ]);
  const named = escapeHtml(title);
  const left = note ? `<p><em>${escapeHtml(note)}</em></p>` : "";
  return `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>${named}</title></head><body style="${PAGE}"><h1>${named}</h1>${left}${body.join("")}</body></html>\n`;
}

const PAGE = "max-width:38em;margin:0 auto;padding:1em;font:16px/1.5 Georgia,serif;color:#111827";
const HEADING = "border-top:2px solid #111827;padding-top:.5em";
const IMAGE = "max-width:100%;height:auto";

const plain = (words: string) => words.replace(/[\\`*_{}[\]<>#|~]/g, "\\$&");

const factsOf = ({ fields, content }: Piece): string[] =>
  fields.flatMap((field) => {
    const value = isFact(field) ? sayValue(field, content) : "";
    return value ? [`${field.name}: ${value}`] : [];
  });

const textsOf = ({ fields }: Content): Block[] =>
  Object.values(fields).flatMap((value) => (isManuscript(value) ? [value as Block] : []));

/** A piece with its pictures where they have an address readers can fetch them from, without them elsewhere. */
function withPictures({ fields, content, address }: Piece): { content: Content; address: string } {
  if (address !== null) return { content, address };
  const values = fields.flatMap(({ key, type }) => {
    const value = content.fields[key];
    if (value === undefined || type === "image") return [];
    return [[key, isManuscript(value) ? pruned(value as Block) : value] as const];
  });
  return { content: { ...content, fields: Object.fromEntries(values) }, address: "" };
}

/** A text without its pictures; what held nothing else holds an empty paragraph. */
function pruned(block: Block): Block {
  if (!block.content) return block;
  const content = block.content.filter((one) => one.type !== "image").map(pruned);
  return { ...block, content: content.length > 0 || block.content.length === 0 ? content : [{ type: "paragraph" }] };
}
