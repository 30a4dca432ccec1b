import type { Field } from "#core/text/field.ts";
import { type Content, isManuscript } from "#core/text/fields.ts";
import { escapeHtml, filesBelow } from "#core/text/html.ts";
import { toMarkdown } from "#core/text/markdown-out.ts";
import { isFact, sayValue } from "#core/text/values.ts";
import { bodyHtml } from "../reader/shown.ts";
import { asDocx, type DocumentPictures } from "./docx-out.ts";

/** A version that is taken along. */
export interface Taken {
  fields: readonly Field[];
  content: Content;
  /** The pictures it shows, for a form that carries them. */
  pictures: DocumentPictures;
  /** The address at which its files are found from outside. */
  baseUrl: string;
}

/** How a version is written in each form it is handed out in. */
export const WRITERS = {
  docx: ({ fields, content, pictures }: Taken) => asDocx(fields, content, pictures),
  md: markdownFile,
  html: htmlFile,
} as const;

/** Markdown with the plain fields at its head, so that bringing it in again gives the same piece. */
function markdownFile({ fields, content, baseUrl }: Taken): string {
  const plain = fields.flatMap(({ key, type }) => {
    const value = content.fields[key];
    return type !== "manuscript" && value !== undefined ? [`${key}: ${JSON.stringify(value)}`] : [];
  });
  const head = plain.length > 0 ? `---\n${plain.join("\n")}\n---\n\n` : "";
  const title = content.title.replace(/[\\`*_{}[\]<>#|~]/g, "\\$&");
  const texts = fields.flatMap(({ key }) => {
    const value = content.fields[key];
    return isManuscript(value) ? [toMarkdown(value, filesBelow(baseUrl))] : [];
  });
  return `${head}# ${title}\n\n${texts.join("\n")}`;
}

function htmlFile({ fields, content, baseUrl }: Taken): string {
  const facts = fields.flatMap((field) => {
    const value = isFact(field) ? sayValue(field, content) : "";
    return value ? [`<dt>${escapeHtml(field.name)}</dt><dd>${escapeHtml(value)}</dd>`] : [];
  });
  const title = escapeHtml(content.title);
  const list = facts.length > 0 ? `<dl>${facts.join("")}</dl>` : "";
  const body = bodyHtml({ fields, content }, filesBelow(baseUrl));
  return `<!doctype html><html lang="en"><meta charset="utf-8"><title>${title}</title><h1>${title}</h1>${list}${body}</html>\n`;
}
