import { Readable } from "node:stream";
import { ZipFile } from "yazl";
import { inParts } from "#core/release/edition.ts";
import { counted } from "#core/words/say.ts";
import type { Gathered } from "../apart/docx-out.ts";
import type { EDITION_WRITERS } from "../apart/edition-out.ts";
import { apart } from "../apart/pool.ts";
import type { Queryable } from "../db/client.ts";
import { picturesOf } from "../exchange/document-pictures.ts";
import type { Viewer } from "../viewer.ts";
import { type Bound, boundPieces } from "./contents.ts";
import type { editionPage } from "./page.ts";

/** The forms an edition is handed over in, with their media types. */
export const HANDED = {
  txt: "text/plain; charset=utf-8",
  md: "text/markdown; charset=utf-8",
  html: "text/html; charset=utf-8",
  docx: "application/vnd.openxmlformats-officedocument.wordprocessingml.document",
} as const satisfies Record<keyof typeof EDITION_WRITERS, string>;
export type Handed = keyof typeof HANDED;

interface House {
  db: Queryable;
  files: string;
  baseUrl: string;
}

type Page = NonNullable<Awaited<ReturnType<typeof editionPage>>>;

/** What of an edition goes along: what is ready, in order; what is not is named. */
async function gather(
  { db, baseUrl }: House,
  viewer: Viewer,
  page: Page,
): Promise<{ gathered: Omit<Gathered, "pictures">; bound: Bound[] }> {
  const ready = page.contents ? new Set(page.contents.checks.ready) : null;
  const bound = await boundPieces(db, viewer, page.id, (item) => ready?.has(item.pieceId) ?? true);
  const missing = page.contents?.items.filter((one) => !ready?.has(one.pieceId)) ?? [];
  const hidden = page.contents?.hidden ?? 0;
  const titles = missing.map((one) => one.row.title);
  const unseen = hidden > 0 ? [`${counted(hidden, "piece")} you may not see`] : [];
  const note = titles.length + hidden > 0 ? `Not in it: ${[...titles, ...unseen].join("; ")}.` : "";
  const parts = [...inParts(bound, page.parts)].flatMap(([key, some]) => {
    const name = page.parts.find((part) => part.key === key)?.name ?? "";
    const pieces = some.map(({ fields, content, live, slug }) => ({
      fields,
      content,
      address: live ? `${baseUrl}/read/${slug}` : null,
    }));
    return pieces.length > 0 ? [{ name, pieces }] : [];
  });
  return { gathered: { title: page.name, note, parts }, bound };
}

/** An edition in one form. Whoever asks has been shown it. @throws GivenUp where it takes too long, or shows too many pictures */
export async function handedOver(house: House, viewer: Viewer, page: Page, form: Handed): Promise<string | Uint8Array> {
  const { gathered, bound } = await gather(house, viewer, page);
  const pictures = form === "docx" ? await picturesOf(house.files, bound) : new Map();
  return apart("editionOut", { form, gathered: { ...gathered, pictures } }, viewer.id);
}

/**
 * Everything of an edition in one ZIP file: each form, each piece as Markdown in its order, the pictures, and what is
 * in it as JSON.
 *
 * @throws GivenUp where it takes too long, or shows too many pictures
 */
export async function everything(house: House, viewer: Viewer, page: Page): Promise<ReadableStream<Uint8Array>> {
  const { gathered, bound } = await gather(house, viewer, page);
  const pictures = await picturesOf(house.files, bound);
  const zip = new ZipFile();
  const stamp = { mtime: new Date(page.releasedAt ?? page.at), mode: 0o644 };
  const add = (name: string, body: string | Uint8Array) => zip.addBuffer(Buffer.from(body), name, stamp);
  for (const form of Object.keys(HANDED) as Handed[])
    add(
      `${fileName(page)}.${form}`,
      await apart("editionOut", { form, gathered: { ...gathered, pictures } }, viewer.id),
    );
  const ordered = [...inParts(bound, page.parts).values()].flat();
  for (const [i, { slug, fields, content }] of ordered.entries()) {
    const taken = { fields, content, pictures, baseUrl: house.baseUrl };
    add(`pieces/${String(i + 1).padStart(3, "0")}-${slug}.md`, await apart("write", { form: "md", taken }, viewer.id));
  }
  for (const [file, { bytes }] of pictures) add(`pictures/${file}.jpg`, bytes);
  add("contents.json", `${JSON.stringify(contentsOf(page, ordered), null, 2)}\n`);
  zip.end();
  return Readable.toWeb(Readable.from(zip.outputStream)) as ReadableStream<Uint8Array>;
}

/** What the file of an edition is called, without its ending. */
export const fileName = ({ channel, number }: Pick<Page, "channel" | "number">) => `${channel.key}-${number}`;

const contentsOf = (page: Page, ordered: readonly Bound[]) => ({
  format: "elenco.edition/1",
  edition: page.name,
  channel: page.channel.key,
  number: page.number,
  leaves: new Date(page.releasedAt ?? page.at).toISOString(),
  pieces: ordered.map(({ slug, part, author, content }) => ({
    part: page.parts.find((one) => one.key === part)?.name ?? page.parts[0]?.name ?? "",
    title: content.title,
    author,
    slug,
  })),
});
