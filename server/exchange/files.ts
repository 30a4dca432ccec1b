import type { Field } from "#core/text/field.ts";
import { type Content, FILE_BYTES } from "#core/text/fields.ts";
import { fileUses } from "#core/text/files.ts";
import type { ImportedDraft } from "#core/text/html-in.ts";
import { readContent } from "#core/text/reading.ts";
import { apart } from "../apart/pool.ts";
import { inTurn, orProblem } from "../apart/turns.ts";
import type { BroughtFile } from "../files/commands.ts";
import { decodedText } from "../files/sniff.ts";
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
 * @param who who brings it, by id
 * @returns the draft, or a sentence that says why it is none
 */
export const bringIn = (
  name: string,
  bytes: Buffer,
  fields: readonly Field[],
  seen: Seen,
  who: string,
): Promise<Brought | { problem: string }> => orProblem(read(name, bytes, fields, seen, who));

async function read(
  name: string,
  bytes: Buffer,
  fields: readonly Field[],
  seen: Seen,
  who: string,
): Promise<Brought | { problem: string }> {
  if (bytes.length > FILE_BYTES) return { problem: `The file is larger than ${FILE_BYTES / 1_000_000} MB.` };
  const home = fields.find((field) => field.type === "manuscript");
  if (!home) return { problem: "This kind of piece holds no text." };
  if (bytes.subarray(0, 2).toString("latin1") === "PK") {
    const document = await apart("docxIn", bytes, who);
    if ("problem" in document) return document;
    const page = await inTurn(who, () => illustrated(document.html, seen));
    const draft = await apart("htmlIn", { text: page.text, known: page.known }, who);
    return placed({ ...draft, leftOut: [...draft.leftOut, ...document.leftOut] }, page, home, {}, fields);
  }
  const text = decodedText(bytes);
  if (text === null) return { problem: "The file is neither a DOCX document nor a text in UTF-8." };
  const page = await inTurn(who, () => illustrated(text, seen));
  if (/\.html?$/i.test(name) || /^\s*(<!doctype html|<html)/i.test(text))
    return placed(await apart("htmlIn", { text: page.text, known: page.known }, who), page, home, {}, fields);
  const { values, rest } = frontMatter(page.text);
  return placed(await apart("markdownIn", { text: rest, known: page.known }, who), page, home, values, fields);
}

function placed(
  draft: ImportedDraft,
  { files, known }: Illustrated,
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
    else if (!fileUses(fields, read.content).every((use) => known.has(use.file)))
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
