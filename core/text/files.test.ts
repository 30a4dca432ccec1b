import type { Field } from "./field.ts";
import type { Content, Value } from "./fields.ts";
import { fileProblems, fileUses, type KnownFile, leadPicture, sayBytes } from "./files.ts";

const field = (key: string, type: Field["type"]): Field => ({ key, name: key.toUpperCase(), type, required: false });
const FIELDS = [field("body", "manuscript"), field("lead", "image"), field("track", "file"), field("line", "line")];
const [a, b, c] = ["a", "b", "c"].map((one) => one.repeat(64)) as [string, string, string];
const picture = (file: string) => ({ file, alt: "A hut", caption: "", credit: "G. F." });
const text = (...files: string[]) => ({
  type: "doc",
  content: [
    { type: "paragraph", content: [{ type: "text", text: "Up." }] },
    { type: "blockquote", content: files.map((file) => ({ type: "image", attrs: picture(file) })) },
  ],
});
const content = (fields: Record<string, Value>): Content => ({ title: "T", fields });

test("what a content shows and hands out, in the order of its fields", () => {
  expect(fileUses(FIELDS, content({ track: c, lead: picture(b), body: text(a, a), line: a }))).toEqual([
    { key: "body", file: a, as: "picture" },
    { key: "body", file: a, as: "picture" },
    { key: "lead", file: b, as: "picture" },
    { key: "track", file: c, as: "file" },
  ]);
});

test.each<[string, Record<string, Value>, string | undefined]>([
  ["the picture of its own, though the text has one first", { body: text(a), lead: picture(b) }, b],
  ["the first of the text, where it has none of its own", { body: text(a, b) }, a],
  ["none, where it shows none", { track: c }, undefined],
])("what stands for a piece: %s", (_, fields, file) => {
  expect(leadPicture(FIELDS, content(fields))?.file).toBe(file);
});

const whole: KnownFile = { name: "hut.jpg", licence: "Own work", mediaType: "image/jpeg", state: "whole" };
test.each<[string, Partial<KnownFile> | null, string[]]>([
  ["all is well", {}, []],
  ["it is missing", { state: "missing" }, ["LEAD: “hut.jpg” is no longer among the files kept; add it again"]],
  ["it is damaged", { state: "damaged" }, ["LEAD: “hut.jpg” is damaged where it is kept; add it again"]],
  ["nobody gave leave", { licence: " " }, ["LEAD: “hut.jpg” comes without a licence"]],
  ["it is no picture", { mediaType: "application/pdf" }, ["LEAD: “hut.jpg” is no picture"]],
  ["it is another piece's", null, ["LEAD: a picture is not among the piece’s files"]],
])("what stands between a file and readers: %s", (_, more, sentences) => {
  const known = new Map(more ? [[a, { ...whole, ...more }]] : []);
  const found = fileProblems(FIELDS, content({ lead: picture(a) }), known);
  expect(found).toEqual(sentences.map((sentence) => ({ key: "lead", sentence })));
});

test("a picture that stands twice is complained of once", () => {
  expect(fileProblems(FIELDS, content({ body: text(a, a) }), new Map())).toHaveLength(1);
});

test("a file that is handed out may be of any type", () => {
  const known = new Map([[c, { ...whole, mediaType: "application/gpx+xml" }]]);
  expect(fileProblems(FIELDS, content({ track: c }), known)).toEqual([]);
});

test.each([
  [0, "0 bytes"],
  [999, "999 bytes"],
  [1_000, "1.0 kB"],
  [12_345, "12 kB"],
  [20_000_000, "20 MB"],
])("%d bytes are said as %s", (bytes, said) => {
  expect(sayBytes(bytes)).toBe(said);
});
