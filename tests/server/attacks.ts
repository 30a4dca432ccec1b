import { buffer } from "node:stream/consumers";
import sharp from "sharp";
import { ZipFile } from "yazl";
import { z } from "zod";
import { readForm } from "#app/request.ts";
import { emptyManuscript } from "#core/text/manuscript.ts";
import { readContent } from "#core/text/reading.ts";
import { apart } from "#server/apart/pool.ts";
import { orProblem } from "#server/apart/turns.ts";
import { bringIn } from "#server/exchange/files.ts";

/** Something sent to cost more than it may, and what answers it: never anything but a sentence or what was asked. */
export interface Attack {
  name: string;
  /** Makes what is sent, where that takes its time: the attacker's. */
  made?(): Promise<Buffer>;
  /** Sends it, and says in a word what came of it. */
  send(made: Buffer): Promise<string> | string;
  /** What may come of it. */
  ends: RegExp;
}

const FIELDS = [{ key: "body", name: "Text", type: "manuscript" as const, required: true }];
const nothing = async () => new Set<string>();
const verdict = (read: object | string) =>
  typeof read === "object" && "problem" in read ? `refused: ${read.problem}` : "read";
const bring = async (name: string, source: string | Buffer) =>
  verdict(await bringIn(name, Buffer.from(source), FIELDS, nothing, "attacker"));
const kept = (title: string, body: unknown) => {
  const read = readContent(FIELDS, { title, fields: { body } });
  return "problems" in read ? `refused: ${read.problems[0]?.sentence}` : "read";
};
const paragraph = (text: string) => ({ type: "paragraph", content: [{ type: "text", text }] });
const doc = (...content: object[]) => ({ type: "doc", content });
const within = (depth: number, innermost: object): object => {
  let block = innermost;
  for (let i = 0; i < depth; i++) block = { type: "blockquote", content: [block] };
  return block;
};
const cellSpanning = (colspan: unknown) =>
  doc({
    type: "table",
    content: [
      { type: "tableRow", content: [{ type: "tableCell", attrs: { colspan, rowspan: 1 }, content: [paragraph("a")] }] },
    ],
  });

/** A DOCX document of so many paragraphs that packs to next to nothing. */
async function packed(paragraphs: number): Promise<Buffer> {
  const zip = new ZipFile();
  const part = (name: string, xml: string) => zip.addBuffer(Buffer.from(xml), name);
  part("[Content_Types].xml", '<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"/>');
  part(
    "_rels/.rels",
    '<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="r1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/officeDocument" Target="word/document.xml"/></Relationships>',
  );
  part(
    "word/document.xml",
    `<w:document xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"><w:body>${"<w:p><w:r><w:t>a</w:t></w:r></w:p>".repeat(paragraphs)}</w:body></w:document>`,
  );
  zip.end();
  return buffer(zip.outputStream);
}

const calendar = (events: string) => `BEGIN:VCALENDAR\r\nVERSION:2.0\r\n${events}END:VCALENDAR\r\n`;
const daily =
  "BEGIN:VEVENT\r\nUID:a\r\nDTSTART;VALUE=DATE:19000101\r\nRRULE:FREQ=DAILY\r\nSUMMARY:Away\r\nEND:VEVENT\r\n";

const FREE = /^(read|refused: .+)$/;
const REFUSED = /^refused: .+$/;

/** A picture of very many pixels that packs to next to nothing. */
const flat = (side: number) =>
  sharp({ create: { width: side, height: side, channels: 3, background: "#468" } })
    .webp({ effort: 0 })
    .toBuffer();

export const ATTACKS: readonly Attack[] = [
  {
    name: "a text with 40 pictures of 100,000,000 pixels",
    made: async () => Buffer.from(`![](data:image/webp;base64,${(await flat(10_000)).toString("base64")})\n`),
    send: (made) =>
      // Each is another one: the same twice is read once.
      bring(
        "a.md",
        Array.from({ length: 40 }, (_, i) => String(made).replace(/\)\n$/, `${"AAAA".repeat(i)})\n`)).join(""),
      ),
    ends: FREE,
  },
  {
    name: "a form of 200,000 names",
    send() {
      const form = new FormData();
      for (let i = 0; i < 200_000; i++) form.append(`k${i}`, "");
      return "fields" in readForm(z.object({}), form) ? "refused: too many" : "read";
    },
    ends: REFUSED,
  },
  {
    name: "one name 200,000 times",
    send() {
      const form = new FormData();
      for (let i = 0; i < 200_000; i++) form.append("ids[]", "");
      return "fields" in readForm(z.object({}), form) ? "refused: too many" : "read";
    },
    ends: REFUSED,
  },
  {
    name: "a title of 60,000 letters without a space",
    send: () => kept("a".repeat(60_000), emptyManuscript()),
    ends: REFUSED,
  },
  { name: "a title of accents", send: () => kept(`e${"\u0301".repeat(60_000)}`, emptyManuscript()), ends: REFUSED },
  { name: "60,000 words joined by hyphens", send: () => bring("a.md", "hut-".repeat(60_000)), ends: /^read$/ },
  { name: "a cell over 1,000,000,000 columns", send: () => kept("T", cellSpanning(1_000_000_000)), ends: REFUSED },
  { name: "a cell over half a column", send: () => kept("T", cellSpanning(0.5)), ends: REFUSED },
  {
    name: "a list that begins at no number",
    send: () =>
      kept(
        "T",
        doc({
          type: "orderedList",
          attrs: { start: 1e300 },
          content: [{ type: "listItem", content: [paragraph("a")] }],
        }),
      ),
    ends: REFUSED,
  },
  { name: "quotes 300 deep", send: () => kept("T", doc(within(300, paragraph("a")))), ends: REFUSED },
  { name: "quotes 5,000 deep", send: () => kept("T", doc(within(5_000, paragraph("a")))), ends: REFUSED },
  { name: "quotes 200,000 deep", send: () => kept("T", doc(within(200_000, paragraph("a")))), ends: REFUSED },
  { name: "Markdown of 20,000 pictures begun", send: () => bring("a.md", "![".repeat(20_000)), ends: FREE },
  { name: "Markdown of 200,000 brackets", send: () => bring("a.md", "[".repeat(200_000)), ends: FREE },
  { name: "Markdown of 50,000 stars", send: () => bring("a.md", "*a_ ".repeat(50_000)), ends: FREE },
  { name: "Markdown quoted 50,000 deep", send: () => bring("a.md", `${">".repeat(50_000)} a`), ends: FREE },
  { name: "HTML nested 50,000 deep", send: () => bring("a.html", `${"<div>".repeat(50_000)}a`), ends: FREE },
  {
    name: "HTML of 50,000 bold letters never ended",
    send: () => bring("a.html", "<b>a<p>".repeat(50_000)),
    ends: FREE,
  },
  {
    name: "a small document that unpacks to 30 MB of paragraphs",
    made: () => packed(900_000),
    send: (made) => bring("a.docx", made),
    ends: FREE,
  },
  {
    name: "1,600 notes taken along as Markdown",
    async send() {
      const note = {
        type: "paragraph",
        content: [
          { type: "text", text: "a" },
          { type: "note", attrs: { text: "b" } },
        ],
      };
      const content = { title: "T", fields: { body: doc(...Array.from({ length: 1_600 }, () => note)) } };
      const taken = { fields: FIELDS, content, pictures: new Map(), baseUrl: "" };
      return verdict(await orProblem(apart("write", { form: "md", taken }, "attacker")));
    },
    ends: FREE,
  },
  {
    name: "old content with a cell over 1,000,000,000 columns taken along as a document",
    async send() {
      const content = { title: "T", fields: { body: cellSpanning(1_000_000_000) } };
      const taken = { fields: FIELDS, content, pictures: new Map(), baseUrl: "" };
      return verdict(await orProblem(apart("write", { form: "docx", taken }, "attacker")));
    },
    ends: FREE,
  },
  {
    name: "a calendar of 500 events each day since 1900",
    async send() {
      const input = { source: calendar(daily.repeat(500)), zone: "Europe/Rome", now: Date.parse("2026-11-24T09:00Z") };
      return verdict(await orProblem(apart("calendarIn", input, "attacker")));
    },
    ends: FREE,
  },
];
