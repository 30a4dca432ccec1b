import { RUN_MOST } from "./anchor.ts";
import { fieldSchema } from "./field.ts";
import type { Content } from "./fields.ts";
import { patchSchema } from "./patch-format.ts";
import { rangeSchema } from "./range-format.ts";
import { readContent } from "./reading.ts";
import { applyPatch, patchBetween } from "./splice.ts";

const field = (more: object) => ({ key: "depth", name: "Depth", type: "number", ...more });
const says = ({ error }: { error?: { issues: { message: string }[] } | undefined }) => error?.issues[0]?.message ?? "";

test.each<[string, object]>([
  ["a number between bounds", field({ unit: "cm", least: 0, most: 900 })],
  ["bounds that meet", field({ least: 3, most: 3 })],
  ["a choice", field({ type: "choice", options: ["low", "high"] })],
  ["words of so many", field({ type: "manuscript", minWords: 400, maxWords: 1200, required: true })],
  ["a note for the workshop", field({ type: "line", free: true, maxCharacters: 60 })],
])("%s is a field", (_, json) => expect(says(fieldSchema.safeParse(json))).toBe(""));

test.each<[string, object, RegExp]>([
  ["bounds that cross", field({ least: 5, most: 4 }), /at most is less than at least/],
  ["a choice of nothing", field({ type: "choice" }), /something to choose from/],
  ["a choice of an empty list", field({ type: "choice", options: [] }), /something to choose from/],
  ["a choice of too many", field({ type: "choice", options: Array.from({ length: 41 }, (_, i) => String(i)) }), /40/],
  ["a type there is not", field({ type: "video" }), /Invalid option/],
  ["a key that is none", field({ key: "Snow depth" }), /./],
  ["no name", field({ name: "" }), /./],
  ["half a word", field({ maxWords: 1.5 }), /./],
  ["no end of characters", field({ maxCharacters: 2_001 }), /./],
  ["a word it does not know", field({ colour: "red" }), /colour/],
])("%s is none", (_, json, said) => expect(says(fieldSchema.safeParse(json))).toMatch(said));

test.each<[string, unknown, string]>([
  ["a word", { start: 4, end: 9 }, ""],
  ["as long as may be", { start: 0, end: RUN_MOST }, ""],
  ["nothing", { start: 4, end: 4 }, "Select some words."],
  ["backwards", { start: 9, end: 4 }, "Select some words."],
  ["too long", { start: 0, end: RUN_MOST + 1 }, `A remark stands on at most ${RUN_MOST} characters.`],
])("a selection of %s: %j says %j", (_, json, said) => expect(says(rangeSchema.safeParse(json))).toBe(said));

test.each([{ start: -1, end: 3 }, { start: 0.5, end: 3 }, { start: 0, end: 9_000_000 }, { start: "0", end: 3 }, {}])(
  "%j is no selection in any text",
  (json) => expect(rangeSchema.safeParse(json).success).toBe(false),
);

const paragraph = (text: string) => ({ type: "paragraph", content: [{ type: "text", text }] });
const body = (...texts: string[]) => ({ type: "doc", content: texts.map(paragraph) });
const content = (title: string, fields: Content["fields"]): Content => ({ title, fields });

test.each<[string, Content, Content]>([
  ["a title", content("Old", {}), content("New", {})],
  ["a paragraph of three", content("T", { body: body("a", "b", "c") }), content("T", { body: body("a", "x", "c") })],
  ["a field emptied, another filled", content("T", { depth: 3 }), content("T", { source: "https://a.example" })],
  ["a text where there was none", content("T", {}), content("T", { body: body("a") })],
])("what a save sends of %s goes through its format, and makes the same again", (_, before, after) => {
  const sent = patchSchema.parse(JSON.parse(JSON.stringify(patchBetween(before, after))));
  expect(applyPatch(before, sent)).toEqual(after);
});

test.each<[string, unknown]>([
  ["a splice before the beginning", { fields: { body: { splice: { head: -1, tail: 0, blocks: [] } } } }],
  ["a splice of half a block", { fields: { body: { splice: { head: 0.5, tail: 0, blocks: [] } } } }],
  ["blocks that are words", { fields: { body: { splice: { head: 0, tail: 0, blocks: ["a"] } } } }],
  ["nothing of a field", { fields: { body: {} } }],
  ["a value and a splice at once", { fields: { body: { value: 1, splice: { head: 0, tail: 0, blocks: [] } } } }],
  ["fields in a row", { fields: [] }],
  ["a word it does not know", { fields: {}, author: "me" }],
])("%s is no patch", (_, json) => expect(patchSchema.safeParse(json).success).toBe(false));

test("a splice taken from a longer text is turned away, and not guessed at", () => {
  const sent = patchSchema.parse({ fields: { body: { splice: { head: 3, tail: 3, blocks: [] } } } });
  expect(applyPatch(content("T", { body: body("a", "b") }), sent)).toBeNull();
  expect(applyPatch(content("T", { body: "no text" }), sent)).toBeNull();
});

test.each<[string, unknown, RegExp]>([
  ["nothing", null, /did not arrive whole/],
  ["a list", [], /did not arrive whole/],
  ["no title", { title: "  ", fields: {} }, /needs a title/],
  ["a title of very many accents on one letter", { title: `a${"\u0301".repeat(9_000)}`, fields: {} }, /longer than/],
  ["a field of another kind", { title: "T", fields: { height: 3 } }, /There is no field "height"/],
  ["words for a number", { title: "T", fields: { depth: "3" } }, /Depth: this is no number/],
  ["a number without end", { title: "T", fields: { depth: Number.POSITIVE_INFINITY } }, /Depth: this is no number/],
  ["a day there is not", { title: "T", fields: { day: "2026-02-30" } }, /Day: this is no date/],
  [
    "an address that is a script",
    { title: "T", fields: { source: "javascript:alert(1)" } },
    /Source: an address begins/,
  ],
  ["a file that names none", { title: "T", fields: { file: "../../etc" } }, /File: this is no file/],
  ["a piece that names none", { title: "T", fields: { walk: "1" } }, /Walk: this is no piece/],
  ["a line too long", { title: "T", fields: { line: "a".repeat(2_001) } }, /Line: this is longer/],
])("content that is %s is a problem, said in words", (_, json, said) => {
  const type = (key: string, type: string) =>
    fieldSchema.parse({ key, name: key[0]?.toUpperCase() + key.slice(1), type });
  const fields = [
    type("depth", "number"),
    type("day", "date"),
    type("source", "link"),
    type("file", "file"),
    type("walk", "piece"),
    type("line", "line"),
  ];
  const read = readContent(fields, json);
  expect("problems" in read && read.problems.map((one) => one.sentence).join(" ")).toMatch(said);
});
