import type { Field } from "#core/text/field.ts";
import { type Content, isManuscript } from "#core/text/fields.ts";
import { leadPicture } from "#core/text/files.ts";
import { type AddressOf, pictureToHtml, toHtml } from "#core/text/html.ts";
import type { Picture } from "#core/text/manuscript.ts";

/** A piece as lists and feeds show it. */
export interface Teased {
  title: string;
  standfirst: string;
  /** The picture that stands for it. */
  picture: { src: string; alt: string } | null;
  section: string;
  /** When readers saw it first, and since when they see it as it is now. */
  firstLiveAt: number | null;
  liveAt: number | null;
}

/** What a piece is shown from. */
export interface Shown {
  content: Content;
  fields: readonly Field[];
  section: string;
  firstLiveAt: number | null;
  liveAt: number | null;
}

const TEASER_WIDTH = 480;

/** A piece in short. */
export function teased(one: Shown, addressOf: AddressOf): Teased {
  const { content, fields, section, firstLiveAt, liveAt } = one;
  const lead = leadPicture(fields, content);
  const picture = lead && { src: addressOf(lead.file, TEASER_WIDTH), alt: lead.alt };
  return { title: content.title, standfirst: standfirst(one), picture, section, firstLiveAt, liveAt };
}

/** A piece's standfirst, or nothing. */
function standfirst({ content }: Pick<Shown, "content">): string {
  return typeof content.fields.standfirst === "string" ? content.fields.standfirst : "";
}

/** A piece's pictures and manuscripts as escaped HTML, in the order of its kind's fields. */
export function bodyHtml({ content, fields }: Pick<Shown, "content" | "fields">, addressOf: AddressOf): string {
  return fields
    .map(({ key, type }) => {
      const value = content.fields[key];
      if (isManuscript(value)) return toHtml(value, addressOf);
      return type === "image" && value ? pictureToHtml(value as Picture, addressOf) : "";
    })
    .join("");
}
