import { z } from "zod";
import type { Block } from "../text/block.ts";
import { TITLE_LIMIT } from "../text/fields.ts";
import { fromHtml, type PictureOf } from "../text/html-in.ts";
import { type Manuscript, safeAddress } from "../text/manuscript.ts";
import { textOf } from "../text/plain.ts";
import { type Element, readXml } from "../words/xml.ts";

/** Something a feed brought. */
export interface Entry {
  /** What the feed knows it by, so that it comes in once. */
  id: string;
  title: string;
  /** Where it stands; null where it says nowhere one can go. */
  url: string | null;
  text: Manuscript;
  /** Where the pictures in its text stand, as it says. */
  pictures: string[];
  /** Epoch milliseconds; null where it says none. */
  at: number | null;
}

export interface Feed {
  title: string;
  entries: Entry[];
}

/** So many entries are read, the first; of each text so many characters. */
const [ENTRIES, LONGEST] = [100, 100_000];
const ID_MOST = 500;

const ATOM = "http://www.w3.org/2005/Atom";
const CONTENT = "http://purl.org/rss/1.0/modules/content/";

/**
 * A feed's bytes as words: by the charset it was sent with, or the one its first line names, or UTF-8.
 *
 * @param type the content type it was sent with
 */
export function decodeFeed(bytes: Uint8Array, type: string | null): string {
  const head = new TextDecoder("latin1").decode(bytes.subarray(0, 200));
  const said = /charset="?([\w-]+)/i.exec(type ?? "")?.[1] ?? /^\s*<\?xml[^>]*encoding=["']([\w-]+)/.exec(head)?.[1];
  return decoderOf(said ?? "utf-8").decode(bytes);
}

function decoderOf(charset: string): TextDecoder {
  try {
    return new TextDecoder(charset);
  } catch {
    return new TextDecoder();
  }
}

/**
 * Reads a feed: RSS 2.0, Atom (RFC 4287) or JSON Feed 1.1. What an entry says is cleaned as anything pasted is; one
 * without a name of its own is known by its address, one without both is left out.
 *
 * @param pictureOf which file a picture is kept as, by where it stands; one that is not kept is left out
 * @returns the feed, or a sentence about what is wrong with it
 */
export function readFeed(source: string, pictureOf: PictureOf = () => null): Feed | { problem: string } {
  const start = source.replace(/^\uFEFF/, "").trimStart();
  if (start.startsWith("{")) return readJsonFeed(start, pictureOf);
  const read = readXml(start);
  if ("problem" in read) return { problem: `It cannot be read as XML: ${read.problem}.` };
  const { root } = read;
  if (root.namespace === ATOM && root.name === "feed") return readAtom(root, start, pictureOf);
  if (root.name === "rss") return readRss(root, pictureOf);
  return { problem: `It is no feed: it begins with “${root.name}”.` };
}

const child = (of: Element, name: string, namespace?: string) =>
  of.children.find((one) => one.name === name && (namespace === undefined || one.namespace === namespace));
const textIn = (of: Element, name: string, namespace?: string) => child(of, name, namespace)?.text.trim() ?? "";

function readRss(root: Element, pictureOf: PictureOf): Feed | { problem: string } {
  const channel = child(root, "channel");
  if (!channel) return { problem: "It is RSS without a channel." };
  const items = channel.children.filter((one) => one.name === "item").slice(0, ENTRIES);
  return {
    title: textIn(channel, "title"),
    entries: items.flatMap((item) =>
      entryOf({
        id: textIn(item, "guid"),
        title: textIn(item, "title"),
        url: textIn(item, "link"),
        html: textIn(item, "encoded", CONTENT) || textIn(item, "description"),
        at: textIn(item, "pubDate"),
        pictureOf,
      }),
    ),
  };
}

function readAtom(root: Element, source: string, pictureOf: PictureOf): Feed {
  const said = (of: Element | undefined): string => {
    if (!of) return "";
    // In XHTML the order of words and marks is everything: it is taken as it is written.
    if (of.attributes.type === "xhtml") return source.slice(...of.inner);
    return of.attributes.type === "html" ? of.text : escaped(of.text);
  };
  const entries = root.children.filter((one) => one.namespace === ATOM && one.name === "entry").slice(0, ENTRIES);
  return {
    title: textIn(root, "title"),
    entries: entries.flatMap((entry) => {
      const [summary, content] = [said(child(entry, "summary")), said(child(entry, "content"))];
      const links = entry.children.filter((one) => one.name === "link");
      const link = links.find((one) => (one.attributes.rel ?? "alternate") === "alternate") ?? links[0];
      return entryOf({
        id: textIn(entry, "id"),
        title: textIn(entry, "title"),
        url: link?.attributes.href ?? "",
        html: content || summary,
        at: textIn(entry, "updated") || textIn(entry, "published"),
        pictureOf,
      });
    }),
  };
}

const escaped = (text: string) => text.replaceAll("&", "&amp;").replaceAll("<", "&lt;");

const words = z.string().catch("");
const jsonFeed = z.object({
  version: z.string().startsWith("https://jsonfeed.org/version/"),
  title: words,
  items: z
    .array(z.unknown())
    .transform((items) => items.slice(0, ENTRIES))
    .pipe(
      z.array(
        z.object({
          id: z.union([z.string(), z.number().transform(String)]).catch(""),
          url: words,
          title: words,
          content_html: z.string().optional().catch(undefined),
          content_text: z.string().optional().catch(undefined),
          date_published: words,
        }),
      ),
    ),
});

function readJsonFeed(source: string, pictureOf: PictureOf): Feed | { problem: string } {
  let json: unknown;
  try {
    json = JSON.parse(source);
  } catch {
    return { problem: "It cannot be read as JSON." };
  }
  const read = jsonFeed.safeParse(json);
  if (!read.success) return { problem: "It is JSON, and no JSON Feed." };
  return {
    title: read.data.title,
    entries: read.data.items.flatMap(({ content_html: html, content_text: text, ...item }) =>
      entryOf({
        ...item,
        html: html ?? escaped(text ?? "").replaceAll("\n\n", "<p>"),
        at: item.date_published,
        pictureOf,
      }),
    ),
  };
}

function entryOf(said: {
  id: string;
  title: string;
  url: string;
  html: string;
  at: string;
  pictureOf: PictureOf;
}): Entry[] {
  const url = /^https?:/.test(said.url) && safeAddress(said.url) ? said.url : null;
  const id = (said.id || said.url).slice(0, ID_MOST);
  if (id === "") return [];
  const at = Date.parse(said.at);
  const named = fromHtml(said.title.slice(0, LONGEST));
  const title = (named.title ?? textOf(named.manuscript as Block)).replace(/\s+/g, " ").trim();
  const pictures: string[] = [];
  const text = fromHtml(said.html.slice(0, LONGEST), (source) => {
    pictures.push(source);
    return said.pictureOf(source);
  }).manuscript;
  return [
    {
      id,
      title: (title || "Without a title").slice(0, TITLE_LIMIT),
      url,
      text,
      pictures,
      at: Number.isNaN(at) ? null : at,
    },
  ];
}
