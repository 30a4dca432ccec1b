import { Feed } from "feed";
import { isManuscript } from "#core/text/fields.ts";
import { filesBelow, toHtml } from "#core/text/html.ts";
import { isFact, sayValue } from "#core/text/values.ts";
import type { Queryable } from "../db/client.ts";
import { listReleased, masthead, type Released } from "./queries.ts";

const FEED_ITEMS = 30;

/** What is released as an Atom feed (RFC 4287). */
export async function atomFeed(db: Queryable, baseUrl: string): Promise<string> {
  const [{ name }, pieces] = await Promise.all([masthead(db), listReleased(db, FEED_ITEMS)]);
  const home = `${baseUrl}/read`;
  const feed = new Feed({
    id: home,
    title: name,
    link: home,
    language: "en",
    copyright: name,
    generator: "Elenco",
    updated: new Date(pieces[0]?.liveAt ?? 0),
    feedLinks: { atom: `${home}/feed.atom` },
    author: { name },
  });
  for (const one of pieces) {
    feed.addItem({
      id: `${home}/${one.slug}`,
      link: `${home}/${one.slug}`,
      title: one.content.title,
      description: standfirst(one),
      content: bodyHtml(one, home),
      author: [{ name: one.author }],
      category: [{ name: one.section }],
      published: new Date(one.firstLiveAt),
      date: new Date(one.liveAt),
    });
  }
  return feed.atom1();
}

/** What is released as a JSON Feed (https://www.jsonfeed.org/version/1.1/). */
export async function jsonFeed(db: Queryable, baseUrl: string): Promise<object> {
  const [{ name }, pieces] = await Promise.all([masthead(db), listReleased(db, FEED_ITEMS)]);
  const home = `${baseUrl}/read`;
  return {
    version: "https://jsonfeed.org/version/1.1",
    title: name,
    home_page_url: home,
    feed_url: `${home}/feed.json`,
    language: "en",
    items: pieces.map((one) => ({
      id: `${home}/${one.slug}`,
      url: `${home}/${one.slug}`,
      title: one.content.title,
      ...(standfirst(one) ? { summary: standfirst(one) } : {}),
      content_html: bodyHtml(one, home),
      date_published: new Date(one.firstLiveAt).toISOString(),
      date_modified: new Date(one.liveAt).toISOString(),
      authors: [{ name: one.author }],
      tags: [one.section],
    })),
  };
}

/** A piece as its readers see it, released or not yet. */
export interface ReaderPiece {
  title: string;
  standfirst: string;
  /** The plain fields, in words. */
  facts: { name: string; value: string; link: boolean }[];
  html: string;
  author: string;
  section: string;
  liveAt: number | null;
  firstLiveAt: number | null;
}

type Shown = Pick<Released, "slug" | "content" | "fields" | "author" | "section"> &
  Pick<ReaderPiece, "liveAt" | "firstLiveAt">;

/** @param home the address below which the piece and its files lie */
export function asReadersSee(one: Shown, home: string): ReaderPiece {
  const facts = one.fields
    .filter((field) => isFact(field) && field.key !== "standfirst")
    .map((field) => ({ name: field.name, value: sayValue(field, one.content), link: field.type === "link" }));
  return {
    title: one.content.title,
    standfirst: standfirst(one),
    facts: facts.filter((fact) => fact.value !== ""),
    html: bodyHtml(one, home),
    author: one.author,
    section: one.section,
    liveAt: one.liveAt,
    firstLiveAt: one.firstLiveAt,
  };
}

/** A piece's standfirst, or nothing. */
export function standfirst({ content }: Pick<Released, "content">): string {
  return typeof content.fields.standfirst === "string" ? content.fields.standfirst : "";
}

/**
 * A piece's manuscripts as escaped HTML, in the order of its kind's fields.
 *
 * @param home the address below which released pieces are read
 */
export function bodyHtml(
  { slug, content, fields }: Pick<Released, "slug" | "content" | "fields">,
  home: string,
): string {
  return fields
    .map((field) => content.fields[field.key])
    .filter(isManuscript)
    .map((text) => toHtml(text, filesBelow(`${home}/${slug}`)))
    .join("");
}
