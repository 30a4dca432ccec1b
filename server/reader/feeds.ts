import { z } from "zod";
import { escapeHtml, filesBelow } from "#core/text/html.ts";
import { type Written, writable, writeXml } from "#core/words/xml.ts";
import type { Queryable } from "../db/client.ts";
import { listReleased, masthead, type Place, type Released } from "./queries.ts";
import { bodyHtml, teased } from "./shown.ts";

/** So many pieces stand on one page of a feed. */
export const FEED_ITEMS = 30;

/** The last instant the database has a date for. */
const LAST = Date.UTC(9999, 11, 31, 23, 59, 59);
const place = z.tuple([z.coerce.number().int().min(0).max(LAST), z.uuid()]);

/** Where a page of a feed begins, out of its address; undefined for the first, null for what is none. */
export function placeIn(after: string | null): Place | undefined | null {
  if (after === null) return undefined;
  const [firstLiveAt, id] = place.safeParse(after.split("_")).data ?? [];
  return firstLiveAt !== undefined && id ? { firstLiveAt, id } : null;
}

const addressOf = (feed: string, after: Place | undefined) =>
  after ? `${feed}?after=${after.firstLiveAt}_${after.id}` : feed;

/** What is released as an Atom feed (RFC 4287), in pages that lead to the older ones (RFC 5005). */
export async function atomFeed(db: Queryable, baseUrl: string, after?: Place): Promise<string> {
  const { name, home, items, next } = await page(db, baseUrl, after);
  const address = `${home}/feed.atom`;
  const link = (rel: string, href: string, more = {}) => element("link", { rel, href, ...more });
  return writeXml(
    element("feed", { xmlns: "http://www.w3.org/2005/Atom", "xml:lang": "en" }, [
      element("id", {}, [home]),
      text("title", name),
      element("updated", {}, [iso(Math.max(0, ...items.map((one) => one.liveAt)))]),
      element("author", {}, [element("name", {}, [name])]),
      link("alternate", home, { type: "text/html" }),
      link("self", addressOf(address, after), { type: "application/atom+xml" }),
      link("first", address),
      ...(next ? [link("next", addressOf(address, next))] : []),
      ...items.map((one) =>
        element("entry", {}, [
          element("id", {}, [one.url]),
          text("title", one.title),
          element("updated", {}, [iso(one.liveAt)]),
          element("published", {}, [iso(one.firstLiveAt)]),
          link("alternate", one.url, { type: "text/html" }),
          ...(one.picture ? [link("enclosure", one.picture.src, { type: "image/webp" })] : []),
          element("author", {}, [element("name", {}, [one.author])]),
          element("category", { term: one.section }),
          ...(one.standfirst ? [text("summary", one.standfirst)] : []),
          element("content", { type: "html" }, [one.html]),
        ]),
      ),
    ]),
  );
}

/** What is released as a JSON Feed (https://www.jsonfeed.org/version/1.1/), in pages. */
export async function jsonFeed(db: Queryable, baseUrl: string, after?: Place): Promise<object> {
  const { name, home, items, next } = await page(db, baseUrl, after);
  const address = `${home}/feed.json`;
  return {
    version: "https://jsonfeed.org/version/1.1",
    title: name,
    home_page_url: home,
    feed_url: addressOf(address, after),
    ...(next && { next_url: addressOf(address, next) }),
    language: "en",
    items: items.map(({ url, title, standfirst, picture, html, firstLiveAt, liveAt, author, section }) => ({
      id: url,
      url,
      title,
      ...(standfirst && { summary: standfirst }),
      ...(picture && { image: picture.src }),
      content_html: html,
      date_published: iso(firstLiveAt),
      date_modified: iso(liveAt),
      authors: [{ name: author }],
      tags: [section],
    })),
  };
}

async function page(db: Queryable, baseUrl: string, after: Place | undefined) {
  const [{ name }, pieces] = await Promise.all([masthead(db), listReleased(db, FEED_ITEMS + 1, after)]);
  const home = `${baseUrl}/read`;
  const shown = pieces.slice(0, FEED_ITEMS);
  const next = pieces.length > FEED_ITEMS ? shown.at(-1) : undefined;
  return { name: writable(name), home, next, items: shown.map((one) => item(one, home)) };
}

/** What a feed says of a piece; control characters, which no reader of feeds takes, are left out. */
function item(one: Released, home: string) {
  const url = `${home}/${one.slug}`;
  const files = filesBelow(url);
  const { title, standfirst, picture } = teased(one, files);
  const { firstLiveAt, liveAt } = one;
  return {
    url,
    picture,
    firstLiveAt,
    liveAt,
    title: writable(title),
    standfirst: writable(standfirst),
    html: writable(
      `${one.correction === null ? "" : `<p><em>${escapeHtml(`Corrected: ${one.correction}`)}</em></p>`}${bodyHtml(one, files)}`,
    ),
    author: writable(one.author),
    section: writable(one.section),
  };
}

const iso = (at: number) => new Date(at).toISOString();
const element = (
  name: string,
  attributes: Record<string, string> = {},
  children: Written["children"] = [],
): Written => ({ name, attributes, children });
/** A text as it was typed: what looks like markup in it is none. */
const text = (name: string, words: string) => element(name, { type: "text" }, [words]);
