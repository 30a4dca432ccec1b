import type { Block } from "../text/block.ts";
import { textOf } from "../text/plain.ts";
import { decodeFeed, type Feed, readFeed } from "./feed.ts";

const RSS = `<?xml version="1.0"?>
<rss version="2.0" xmlns:content="http://purl.org/rss/1.0/modules/content/"><channel>
<title>Snow</title>
<item><guid>a</guid><title>Wet &amp; heavy</title><link>https://snow.example/a</link>
<description>short</description><content:encoded><![CDATA[<p>One <b>bold</b> word.</p><script>alert(1)</script>]]></content:encoded>
<pubDate>Tue, 24 Nov 2026 07:00:00 GMT</pubDate></item>
<item><title>Without a name</title><link>https://snow.example/b</link><description>&lt;p&gt;Plain&lt;/p&gt;</description></item>
<item><title>Nowhere</title></item>
</channel></rss>`;
const ATOM = `<feed xmlns="http://www.w3.org/2005/Atom"><title>Snow</title>
<entry><id>urn:1</id><title type="html">&lt;i&gt;Crust&lt;/i&gt; bears</title><link rel="edit" href="https://x.example/edit"/>
<link href="https://snow.example/1"/><updated>2026-11-24T07:00:00Z</updated>
<summary type="xhtml"><div xmlns="http://www.w3.org/1999/xhtml"><p>One <b>bold</b> word.</p></div></summary></entry>
<entry><id>urn:2</id><title>Text</title><link href="javascript:alert(1)"/><content>a &lt; b</content></entry></feed>`;
const JSON_FEED = JSON.stringify({
  version: "https://jsonfeed.org/version/1.1",
  title: "Snow",
  items: [
    {
      id: 7,
      url: "https://snow.example/7",
      title: "Seven",
      content_html: "<p>One <b>bold</b> word.</p>",
      date_published: "2026-11-24T07:00:00Z",
    },
    { id: "8", content_text: "a < b\n\nc" },
  ],
});
const AT = Date.parse("2026-11-24T07:00:00Z");

const feed = (source: string): Feed => {
  const read = readFeed(source);
  if ("problem" in read) throw new Error(read.problem);
  return read;
};
const said = (source: string) =>
  feed(source).entries.map(({ text, pictures: _, ...one }) => ({ ...one, text: textOf(text).trim() }));

test.each<[string, string, ReturnType<typeof said>]>([
  [
    "RSS",
    RSS,
    [
      { id: "a", title: "Wet & heavy", url: "https://snow.example/a", at: AT, text: "One bold word." },
      { id: "https://snow.example/b", title: "Without a name", url: "https://snow.example/b", at: null, text: "Plain" },
    ],
  ],
  [
    "Atom",
    ATOM,
    [
      { id: "urn:1", title: "Crust bears", url: "https://snow.example/1", at: AT, text: "One bold word." },
      { id: "urn:2", title: "Text", url: null, at: null, text: "a < b" },
    ],
  ],
  [
    "JSON Feed",
    JSON_FEED,
    [
      { id: "7", title: "Seven", url: "https://snow.example/7", at: AT, text: "One bold word." },
      { id: "8", title: "Without a title", url: null, at: null, text: "a < b\nc" },
    ],
  ],
])("%s is read: what each entry is known by, where it stands, its words cleaned", (_, source, entries) => {
  expect(feed(source).title).toBe("Snow");
  expect(said(source)).toEqual(entries);
  expect(JSON.stringify(feed(source))).not.toContain("alert");
});

test("a picture that is kept stands in its words; of one that is not it is said where it stands alone", () => {
  const source = JSON.stringify({
    version: "https://jsonfeed.org/version/1.1",
    title: "Snow",
    items: [{ id: "1", content_html: '<p>Look:</p><img src="https://a.example/1.png" alt="Snow"><img src="/2.png">' }],
  });
  expect(feed(source).entries[0]?.pictures).toEqual(["https://a.example/1.png", "/2.png"]);
  const file = "a".repeat(64);
  const kept = readFeed(source, (at) => (at === "https://a.example/1.png" ? file : null)) as Feed;
  const [{ text } = { text: {} }] = kept.entries;
  const images = (text as Block).content?.filter((block) => block.type === "image");
  expect(images).toMatchObject([{ attrs: { file, alt: "Snow" } }]);
});

test("a text in XHTML is taken as it is written, each entry its own", () => {
  const entry = (id: string, texts: string) => `<a:entry><a:id>${id}</a:id><a:title>T</a:title>${texts}</a:entry>`;
  const source = `<a:feed xmlns:a="http://www.w3.org/2005/Atom">${[
    entry("1", `<a:summary type="text"><![CDATA[<content type="xhtml">not this</content>]]></a:summary>`),
    entry("2", `<a:content type='xhtml' ><div xmlns="http://www.w3.org/1999/xhtml">a <b>b</b> c</div></a:content >`),
    entry("3", `<a:summary type="xhtml"/><a:content type="xhtml"><p>last</p></a:content>`),
  ].join("\r\n")}</a:feed>`;
  expect(said(source).map((one) => one.text)).toEqual([`<content type="xhtml">not this</content>`, "a b c", "last"]);
});

test("of a long feed the first hundred are read, and what stands after them is not looked at", () => {
  const items = [...Array.from({ length: 100 }, (_, id) => ({ id })), "no item"];
  const read = feed(JSON.stringify({ version: "https://jsonfeed.org/version/1.1", title: "Long", items }));
  expect(read.entries).toHaveLength(100);
});

test.each<[string, string, RegExp]>([
  ["nothing", "", /cannot be read as XML/],
  ["words", "hello", /cannot be read as XML/],
  ["another document", "<html><body/></html>", /begins with “html”/],
  ["RSS without a channel", "<rss/>", /without a channel/],
  ["XML cut off", RSS.slice(0, 300), /cannot be read as XML/],
  [
    "entities of its own",
    `<!DOCTYPE rss [<!ENTITY a "${"x".repeat(99)}">]><rss><channel>&a;</channel></rss>`,
    /document type/,
  ],
  ["tags nested without end", `<rss>${"<a>".repeat(200)}`, /nested more than/],
  ["JSON cut off", JSON_FEED.slice(0, 80), /cannot be read as JSON/],
  ["JSON that is no feed", `{"items": []}`, /no JSON Feed/],
])("%s is no feed, and it is said why", (_, source, problem) => {
  expect(readFeed(source)).toEqual({ problem: expect.stringMatching(problem) });
});

test("of a feed without end the first hundred entries are read", () => {
  const many = Array.from({ length: 500 }, (_, i) => `<item><guid>${i}</guid><title>${i}</title></item>`).join("");
  expect(feed(`<rss><channel>${many}</channel></rss>`).entries).toHaveLength(100);
});

const bytes = (text: string, charset: "latin1" | "utf8") => new Uint8Array(Buffer.from(text, charset));
test.each<[string, Uint8Array, string | null]>([
  ["as it was sent", bytes("<a>Höhe</a>", "latin1"), "text/xml; charset=ISO-8859-1"],
  ["as its first line says", bytes(`<?xml version="1.0" encoding="iso-8859-1"?><a>Höhe</a>`, "latin1"), "text/xml"],
  ["as UTF-8 where nothing is said", bytes("<a>Höhe</a>", "utf8"), null],
  ["as UTF-8 where nonsense is said", bytes("<a>Höhe</a>", "utf8"), "text/xml; charset=klingon"],
])("a feed's letters are read %s", (_, source, type) => {
  expect(decodeFeed(source, type)).toContain("Höhe");
});
