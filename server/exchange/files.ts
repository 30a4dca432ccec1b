import { type Content, FILE_BYTES, type Field, isManuscript, readContent } from "#core/text/fields.ts";
import { fileUses } from "#core/text/files.ts";
import { type AddressOf, escapeHtml } from "#core/text/html.ts";
import { fromHtml, type ImportedDraft } from "#core/text/html-in.ts";
import { fromMarkdown } from "#core/text/markdown.ts";
import { toMarkdown } from "#core/text/markdown-out.ts";
import { isFact, sayValue } from "#core/text/values.ts";
import type { BroughtFile } from "../files/commands.ts";
import { decodedText } from "../files/sniff.ts";
import { bodyHtml } from "../reader/shown.ts";
import { htmlOfDocx } from "./docx-in.ts";
import { asDocx, type DocumentPictures } from "./docx-out.ts";
import { type Illustrated, illustrated, type Seen } from "./pictures.ts";

/** What a file brought: a draft for a kind of piece, its pictures, and a sentence for each thing left out. */
export interface Brought {
  title: string | null;
  fields: Content["fields"];
  files: BroughtFile[];
  leftOut: string[];
}

/**
 * Reads a file that somebody brings along, by what is in it and not by its name alone: DOCX, HTML or Markdown.
 *
 * @param fields the fields of the kind it becomes; the text goes into the first that holds one
 * @param seen which files kept here its pictures may be
 * @returns the draft, or a sentence that says why it is none
 */
export async function bringIn(
  name: string,
  bytes: Buffer,
  fields: readonly Field[],
  seen: Seen,
): Promise<Brought | { problem: string }> {
  if (bytes.length > FILE_BYTES) return { problem: `The file is larger than ${FILE_BYTES / 1_000_000} MB.` };
  const home = fields.find((field) => field.type === "manuscript");
  if (!home) return { problem: "This kind of piece holds no text." };
  if (bytes.subarray(0, 2).toString("latin1") === "PK") {
    const read = await htmlOfDocx(bytes);
    if ("problem" in read) return read;
    const page = await illustrated(read.html, seen);
    const draft = fromHtml(page.text, page.pictureOf);
    return placed({ ...draft, leftOut: [...draft.leftOut, ...read.leftOut] }, page, home, {}, fields);
  }
  const text = decodedText(bytes);
  if (text === null) return { problem: "The file is neither a DOCX document nor a text in UTF-8." };
  const page = await illustrated(text, seen);
  if (/\.html?$/i.test(name) || /^\s*(<!doctype html|<html)/i.test(text))
    return placed(fromHtml(page.text, page.pictureOf), page, home, {}, fields);
  const { values, rest } = frontMatter(page.text);
  return placed(fromMarkdown(rest, page.pictureOf), page, home, values, fields);
}

function placed(
  draft: ImportedDraft,
  { files, isKnown }: Illustrated,
  home: Field,
  values: Record<string, unknown>,
  fields: readonly Field[],
): Brought {
  const leftOut = [...draft.leftOut];
  const kept: Content["fields"] = { [home.key]: draft.manuscript };
  for (const [key, value] of Object.entries(values)) {
    const field = fields.find((one) => one.key === key);
    const read = readContent(field ? [field] : [], { title: "-", fields: { [key]: value } });
    if ("problems" in read) leftOut.push(`“${key}” was left out: ${read.problems[0]?.sentence}`);
    else if (!fileUses(fields, read.content).every((use) => isKnown(use.file)))
      leftOut.push(`“${key}” was left out: its file is not here.`);
    else Object.assign(kept, read.content.fields);
  }
  if (files.length > 0)
    leftOut.push(
      `${files.length === 1 ? "One picture" : `${files.length} pictures`} came without a word by whom and by what right: say it under Files.`,
    );
  return { title: draft.title, fields: kept, files, leftOut };
}

/** What stands between two lines of `---` at the head of a Markdown text: a key and a JSON value or plain words a line. */
function frontMatter(text: string): { values: Record<string, unknown>; rest: string } {
  const found = /^\uFEFF?---\r?\n([\s\S]*?)\r?\n---\r?\n/.exec(text);
  if (!found) return { values: {}, rest: text };
  const values: Record<string, unknown> = {};
  for (const line of (found[1] ?? "").split(/\r?\n/)) {
    const pair = /^([a-z0-9-]+):[ \t]*(.*)$/.exec(line);
    if (pair?.[1]) values[pair[1]] = jsonOr(pair[2] ?? "");
  }
  return { values, rest: text.slice(found[0].length) };
}

function jsonOr(words: string): unknown {
  try {
    return JSON.parse(words);
  } catch {
    return words;
  }
}

/** A version that is taken along. */
export interface Taken {
  fields: readonly Field[];
  content: Content;
  /** The pictures it shows, for a form that carries them. */
  pictures: DocumentPictures;
  addressOf: AddressOf;
}

/** The forms a piece is handed out in. */
export const FORMATS = {
  docx: {
    mediaType: "application/vnd.openxmlformats-officedocument.wordprocessingml.document",
    write: ({ fields, content, pictures }: Taken) => asDocx(fields, content, pictures),
  },
  md: { mediaType: "text/markdown; charset=utf-8", write: markdownFile },
  html: { mediaType: "text/html; charset=utf-8", write: htmlFile },
} as const;

/** Markdown with the plain fields at its head, so that bringing it in again gives the same piece. */
function markdownFile({ fields, content, addressOf }: Taken): string {
  const plain = fields.flatMap(({ key, type }) => {
    const value = content.fields[key];
    return type !== "manuscript" && value !== undefined ? [`${key}: ${JSON.stringify(value)}`] : [];
  });
  const head = plain.length > 0 ? `---\n${plain.join("\n")}\n---\n\n` : "";
  const title = content.title.replace(/[\\`*_{}[\]<>#|~]/g, "\\$&");
  const texts = fields.flatMap(({ key }) => {
    const value = content.fields[key];
    return isManuscript(value) ? [toMarkdown(value, addressOf)] : [];
  });
  return `${head}# ${title}\n\n${texts.join("\n")}`;
}

function htmlFile({ fields, content, addressOf }: Taken): string {
  const facts = fields.flatMap((field) => {
    const value = isFact(field) ? sayValue(field, content) : "";
    return value ? [`<dt>${escapeHtml(field.name)}</dt><dd>${escapeHtml(value)}</dd>`] : [];
  });
  const title = escapeHtml(content.title);
  const list = facts.length > 0 ? `<dl>${facts.join("")}</dl>` : "";
  const body = bodyHtml({ fields, content }, addressOf);
  return `<!doctype html><html lang="en"><meta charset="utf-8"><title>${title}</title><h1>${title}</h1>${list}${body}</html>\n`;
}
