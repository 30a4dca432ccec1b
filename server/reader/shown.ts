import { type Content, type Field, isManuscript } from "#core/text/fields.ts";
import { leadPicture, sayBytes } from "#core/text/files.ts";
import { type AddressOf, pictureToHtml, toHtml } from "#core/text/html.ts";
import type { Picture } from "#core/text/manuscript.ts";
import { isFact, sayValue } from "#core/text/values.ts";
import type { PieceFile } from "../files/queries.ts";
import type { Released } from "./queries.ts";

/** A piece as lists and feeds show it. */
export interface Teased {
  title: string;
  standfirst: string;
  /** The picture that stands for it. */
  picture: { src: string; alt: string } | null;
  section: string;
  liveAt: number | null;
}

/** A piece as its readers see it, released or not yet. */
export interface ReaderPiece extends Teased {
  /** The plain fields, in words; those that lead somewhere with their address. */
  facts: { name: string; value: string; href: string | null }[];
  html: string;
  author: string;
  firstLiveAt: number | null;
}

type Shown = Pick<Released, "slug" | "content" | "fields" | "author" | "section"> &
  Pick<ReaderPiece, "liveAt" | "firstLiveAt">;

const TEASER_WIDTH = 480;

/** A piece in short. */
export function teased(one: Pick<Shown, "content" | "fields" | "section" | "liveAt">, addressOf: AddressOf): Teased {
  const { content, fields, section, liveAt } = one;
  const lead = leadPicture(fields, content);
  const picture = lead && { src: addressOf(lead.file, TEASER_WIDTH), alt: lead.alt };
  return { title: content.title, standfirst: standfirst(one), picture, section, liveAt };
}

/** @param files the piece's, of which some are handed out */
export function asReadersSee(one: Shown, addressOf: AddressOf, files: readonly PieceFile[]): ReaderPiece {
  const { content } = one;
  const facts = one.fields.flatMap((field) => {
    const { name, key, type } = field;
    const file = type === "file" ? files.find(({ id }) => id === content.fields[key]) : undefined;
    if (file) return [{ name, value: `${file.name}, ${sayBytes(file.bytes)}`, href: addressOf(file.id) }];
    if (!isFact(field) || key === "standfirst") return [];
    const value = sayValue(field, content);
    return value ? [{ name, value, href: type === "link" ? value : null }] : [];
  });
  return {
    ...teased(one, addressOf),
    facts,
    html: bodyHtml(one, addressOf),
    author: one.author,
    firstLiveAt: one.firstLiveAt,
  };
}

/** A piece's standfirst, or nothing. */
function standfirst({ content }: Pick<Released, "content">): string {
  return typeof content.fields.standfirst === "string" ? content.fields.standfirst : "";
}

/** A piece's pictures and manuscripts as escaped HTML, in the order of its kind's fields. */
export function bodyHtml(
  { content, fields }: { content: Content; fields: readonly Field[] },
  addressOf: AddressOf,
): string {
  return fields
    .map(({ key, type }) => {
      const value = content.fields[key];
      if (isManuscript(value)) return toHtml(value, addressOf);
      return type === "image" && value ? pictureToHtml(value as Picture, addressOf) : "";
    })
    .join("");
}
