import { Feed } from "feed";
import { filesBelow } from "#core/text/html.ts";
import type { Queryable } from "../db/client.ts";
import { listReleased, masthead, type Released } from "./queries.ts";
import { bodyHtml, teased } from "./shown.ts";

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
    const { title, standfirst, picture, html } = shown(one, home);
    feed.addItem({
      id: `${home}/${one.slug}`,
      link: `${home}/${one.slug}`,
      title,
      description: standfirst,
      content: html,
      ...(picture && { enclosure: { url: picture.src, type: "image/webp" } }),
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
    items: pieces.map((one) => {
      const { title, standfirst, picture, html } = shown(one, home);
      return {
        id: `${home}/${one.slug}`,
        url: `${home}/${one.slug}`,
        title,
        ...(standfirst && { summary: standfirst }),
        ...(picture && { image: picture.src }),
        content_html: html,
        date_published: new Date(one.firstLiveAt).toISOString(),
        date_modified: new Date(one.liveAt).toISOString(),
        authors: [{ name: one.author }],
        tags: [one.section],
      };
    }),
  };
}

const shown = (one: Released, home: string) => {
  const addressOf = filesBelow(`${home}/${one.slug}`);
  return { ...teased(one, addressOf), html: bodyHtml(one, addressOf) };
};
