import { Feed } from "feed";
import { toHtml } from "#core/text/manuscript.ts";
import type { Queryable } from "../db/client.ts";
import { listReleased, masthead, type Released } from "./queries.ts";

const FEED_ITEMS = 30;

/** The feed of what is released, to be written as Atom (RFC 4287) or JSON Feed 1.1. */
export async function releasedFeed(db: Queryable, baseUrl: string, form: "atom" | "json"): Promise<string> {
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
    feedLinks: { atom: `${home}/feed.atom`, json: `${home}/feed.json` },
    author: { name },
  });
  for (const one of pieces) {
    feed.addItem({
      id: `${home}/${one.slug}`,
      link: `${home}/${one.slug}`,
      title: one.content.title,
      description: standfirst(one),
      content: bodyHtml(one),
      author: [{ name: one.author }],
      category: [{ name: one.section }],
      published: new Date(one.firstLiveAt),
      date: new Date(one.liveAt),
    });
  }
  return form === "atom" ? feed.atom1() : feed.json1();
}

/** A piece's standfirst, or nothing. */
export function standfirst({ content }: Released): string {
  return typeof content.fields.standfirst === "string" ? content.fields.standfirst : "";
}

/** A piece's manuscripts as escaped HTML, in the order of its kind's fields. */
export function bodyHtml({ content, fields }: Released): string {
  return fields
    .map((field) => content.fields[field.key])
    .filter((value) => typeof value === "object")
    .map(toHtml)
    .join("");
}
