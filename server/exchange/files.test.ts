import { deflateRawSync } from "node:zlib";
import fc from "fast-check";
import type { Block } from "#core/text/block.ts";
import type { Field } from "#core/text/field.ts";
import type { Content } from "#core/text/fields.ts";
import { fileUses } from "#core/text/files.ts";
import { filesBelow, toHtml } from "#core/text/html.ts";
import type { Manuscript } from "#core/text/manuscript.ts";
import { anyManuscript } from "#core/text/samples.ts";
import { asDocx, type DocumentPictures } from "../apart/docx-out.ts";
import { WRITERS } from "../apart/writing.ts";
import { picture } from "../files/samples.ts";
import { idOf } from "../files/store.ts";
import { bringIn } from "./files.ts";

const FIELDS: Field[] = [
  { key: "standfirst", name: "Standfirst", type: "line", required: false },
  { key: "body", name: "Text", type: "manuscript", required: true },
  { key: "distance", name: "Distance", type: "number", unit: "km", required: false },
];
const bring = (name: string, source: string | Buffer) =>
  bringIn(name, Buffer.from(source), FIELDS, async () => new Set(), "somebody");
const taken = (fields: Field[], content: Content, pictures: DocumentPictures = new Map()) => ({
  fields,
  content,
  pictures,
  baseUrl: "https://elenco.example",
});
const html = (manuscript: unknown) => toHtml(manuscript as Manuscript, filesBelow(""));
async function brought(name: string, source: string | Buffer) {
  const read = await bring(name, source);
  if ("problem" in read) throw new Error(read.problem);
  return read;
}

const text = (words: string, ...marks: object[]): Block => ({
  type: "text",
  text: words,
  ...(marks.length ? { marks: marks as never } : {}),
});
const p = (...content: Block[]): Block => ({ type: "paragraph", content });
const cell = (type: string, words: string): Block => ({
  type,
  attrs: { colspan: 1, rowspan: 1 },
  content: [p(text(words))],
});
const CONTENT: Content = {
  title: "The salt * road",
  fields: {
    standfirst: 'Six hours, one "ledge".',
    distance: 14.2,
    body: {
      type: "doc",
      content: [
        { type: "heading", attrs: { level: 2 }, content: [text("Up")] },
        p(
          text("A "),
          text("bold", { type: "bold" }),
          text(" and "),
          text("slanted", { type: "italic" }),
          text(" start"),
          { type: "note", attrs: { text: "Said the miller." } },
          text("."),
        ),
        p(text("See "), text("the map", { type: "link", attrs: { href: "https://maps.example/a" } })),
        {
          type: "bulletList",
          content: [
            {
              type: "listItem",
              content: [
                p(text("one")),
                { type: "bulletList", content: [{ type: "listItem", content: [p(text("deeper"))] }] },
              ],
            },
            { type: "listItem", content: [p(text("two"))] },
          ],
        },
        { type: "orderedList", attrs: { start: 1 }, content: [{ type: "listItem", content: [p(text("first"))] }] },
        { type: "blockquote", content: [p(text("Leave early."))] },
        {
          type: "table",
          content: [
            { type: "tableRow", content: [cell("tableHeader", "Hut"), cell("tableHeader", "Beds")] },
            { type: "tableRow", content: [cell("tableCell", "Larice"), cell("tableCell", "24")] },
          ],
        },
      ],
    },
  },
};

test("Markdown out and in again is the same piece, its plain fields too", async () => {
  const file = WRITERS.md(taken(FIELDS, CONTENT));
  expect(await brought("a.md", file)).toEqual({ title: CONTENT.title, fields: CONTENT.fields, files: [], leftOut: [] });
});

test("HTML out and in again has the same text", async () => {
  const file = WRITERS.html(taken([FIELDS[1] as Field], CONTENT));
  expect(await brought("a.html", file)).toEqual({
    title: CONTENT.title,
    fields: { body: CONTENT.fields.body },
    files: [],
    leftOut: [],
  });
});

test("DOCX out and in again keeps headings, emphasis, links, notes, lists in lists, quotes and tables", async () => {
  const file = await asDocx([FIELDS[1] as Field], CONTENT, new Map());
  const draft = await brought("a.docx", file);
  expect(draft.title).toBe(CONTENT.title);
  expect(html(draft.fields.body)).toBe(html(CONTENT.fields.body));
});

test("any manuscript becomes a document that opens, with all of its words", () =>
  fc.assert(
    fc.asyncProperty(anyManuscript, async (body) => {
      const file = await asDocx([FIELDS[1] as Field], { title: "T", fields: { body } }, new Map());
      expect(await bring("a.docx", file)).not.toHaveProperty("problem");
    }),
    { numRuns: 40 },
  ));

describe("pictures in a text that is brought along", () => {
  const PICTURED: Field[] = [FIELDS[1] as Field, { key: "lead", name: "Lead", type: "image", required: false }];
  const bringPictured = async (name: string, source: string | Buffer, seen: string[] = []) => {
    const read = await bringIn(
      name,
      Buffer.from(source),
      PICTURED,
      async (ids) => new Set(ids.filter((id) => seen.includes(id))),
      "somebody",
    );
    if ("problem" in read) throw new Error(read.problem);
    return read;
  };
  const inText = (fields: Content["fields"]) => fileUses(PICTURED, { title: "T", fields }).map((use) => use.file);

  test.each<[string, (address: string) => string]>([
    ["a.md", (address) => `# Walk\n\nUp.\n\n![A hut](${address})\n`],
    ["a.html", (address) => `<h1>Walk</h1><p>Up.</p><p><img src="${address}" alt="A hut"></p>`],
  ])("written out in it they become the piece's files: %s", async (name, write) => {
    const bytes = await picture("#456", { width: 30, height: 20 });
    const data = (type: string, file: Buffer) => `data:image/${type};base64,${file.toString("base64")}`;
    const brought = await bringPictured(name, write(data("jpeg", bytes)));
    expect(inText(brought.fields)).toEqual([idOf(bytes)]);
    expect(brought.files).toMatchObject([{ name: "picture-1.jpg", mediaType: "image/jpeg", width: 30 }]);
    expect(brought.leftOut).toEqual([expect.stringMatching(/^One picture came without a word/)]);

    const drawing = await bringPictured(name, write(data("svg+xml", Buffer.from("<svg onload='x()'/>"))));
    expect([drawing.files, inText(drawing.fields)]).toEqual([[], []]);
    expect(drawing.leftOut).toHaveLength(1);
  });

  test("files kept here are shown again to who may see them, and to nobody else", async () => {
    const [known, strange] = ["a".repeat(64), "b".repeat(64)];
    const file = (id: string) => `![A hut](https://elenco.example/files/${id})`;
    const brought = await bringPictured("a.md", `${file(known)}\n\n${file(strange)}\n`, [known]);
    expect(inText(brought.fields)).toEqual([known]);
    expect(brought.leftOut).toEqual(["One picture could not be kept."]);
    const lead = (id: string) =>
      `---\nlead: ${JSON.stringify({ file: id, alt: "", caption: "", credit: "" })}\n---\n\nUp.\n`;
    expect(inText((await bringPictured("a.md", lead(known), [known])).fields)).toEqual([known]);
    const refused = await bringPictured("a.md", lead(strange), [known]);
    expect([inText(refused.fields), refused.leftOut]).toEqual([[], ["“lead” was left out: its file is not here."]]);
  });

  test("a document takes them along, with what they show, their caption and credit", async () => {
    const [id, words] = ["c".repeat(64), { alt: "A hut", caption: "From the <saddle>", credit: "G. Ferrante" }];
    const pictures = new Map([[id, { bytes: await picture("#456"), width: 800, height: 500 }]]);
    const content: Content = {
      title: "T",
      fields: { body: { type: "doc", content: [p(text("Up.")), { type: "image", attrs: { file: id, ...words } }] } },
    };
    const brought = await bringPictured("a.docx", await asDocx([FIELDS[1] as Field], content, pictures));
    const [file] = brought.files;
    expect(file).toMatchObject({ mediaType: "image/jpeg", width: 800 });
    expect((brought.fields.body as Block).content).toEqual([
      p(text("Up.")),
      { type: "image", attrs: { file: idOf(file?.bytes ?? Buffer.alloc(0)), ...words } },
    ]);
    const without = await bringPictured("a.docx", await asDocx([FIELDS[1] as Field], content, new Map()));
    expect(html(without.fields.body)).toContain("[A hut]");
  });
});

/** A zip with one entry, whose central directory says what is claimed of its size. */
function zip(name: string, bytes: Buffer, claimed = bytes.length): Buffer {
  const packed = deflateRawSync(bytes);
  const head = (signature: string, more: number) => {
    const all = Buffer.alloc(more);
    all.write(signature, "latin1");
    return all;
  };
  const local = head("PK\x03\x04", 30);
  const central = head("PK\x01\x02", 46);
  for (const [part, at] of [
    [local, 8],
    [central, 10],
  ] as const) {
    part.writeUInt16LE(8, at);
    part.writeUInt32LE(packed.length, at + 10);
    part.writeUInt32LE(claimed, at + 14);
    part.writeUInt16LE(name.length, at + 18);
  }
  const end = head("PK\x05\x06", 22);
  end.writeUInt16LE(1, 8);
  end.writeUInt16LE(1, 10);
  end.writeUInt32LE(central.length + name.length, 12);
  end.writeUInt32LE(local.length + name.length + packed.length, 16);
  return Buffer.concat([local, Buffer.from(name), packed, central, Buffer.from(name), end]);
}

test.each<[string, string, string | Buffer, RegExp]>([
  [
    "a document that unpacks to a hundred megabytes",
    "a.docx",
    zip("word/document.xml", Buffer.alloc(100_000_000)),
    /unpacks to more than 60 MB/,
  ],
  [
    "one that lies about its size",
    "a.docx",
    zip("word/document.xml", Buffer.alloc(100_000_000), 10),
    /not a DOCX document/,
  ],
  ["a zip that is no document", "a.docx", zip("readme.txt", Buffer.from("x")), /not a DOCX document/],
  [
    "a document broken in the middle",
    "a.docx",
    zip("word/document.xml", Buffer.from("<w:document")),
    /could not be read/,
  ],
  [
    "a program by another name",
    "a.md",
    Buffer.from([0x7f, 0x45, 0x4c, 0x46, 2, 1, 0, 0xff]),
    /neither a DOCX document nor a text/,
  ],
  ["thirty megabytes", "a.docx", Buffer.alloc(30_000_000), /larger than 10 MB/],
  ["text with a nought in it", "a.md", "a\0b", /neither/],
])("%s is refused with the reason", async (_, name, source, reason) => {
  expect(await bring(name, source)).toEqual({ problem: expect.stringMatching(reason) });
});

test("what a Markdown head says that no field can hold is left out and said", async () => {
  const draft = await brought(
    "a.md",
    '---\ndistance: "far"\ncolour: red\nstandfirst: plain words\n---\n\n# T\n\nText\n',
  );
  expect(draft.fields).toMatchObject({ standfirst: "plain words" });
  expect(draft.fields).not.toHaveProperty("distance");
  expect(draft.leftOut).toHaveLength(2);
});

test("hostile HTML leaves nothing that runs", async () => {
  const draft = await brought(
    "a.html",
    '<!doctype html><body onload=x()><p onclick="y()">a</p><svg onload=z()><script>1</script></svg><a href="javascript:1">b</a><object data=x></object>',
  );
  expect(html(draft.fields.body)).toBe("<p>a</p><p>b</p>");
  expect(draft.leftOut.length).toBeGreaterThanOrEqual(3);
});
