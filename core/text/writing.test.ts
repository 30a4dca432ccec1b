import fc from "fast-check";
import type { Block } from "./block.ts";
import { compareContents, wordsChanged } from "./compare.ts";
import { type Field, fieldSchema } from "./field.ts";
import { type Content, countFields, fieldProblems } from "./fields.ts";
import type { Manuscript } from "./manuscript.ts";
import { mergeContents } from "./merge.ts";
import { patchSchema } from "./patch-format.ts";
import { readContent } from "./reading.ts";
import { anyManuscript } from "./samples.ts";
import { applyPatch, patchBetween } from "./splice.ts";
import { isFact, referredTo, sayValue } from "./values.ts";

const p = (text: string): Block => ({ type: "paragraph", content: [{ type: "text", text }] });
const doc = (...texts: string[]): Manuscript => ({ type: "doc", content: texts.map(p) });
const holding = (body: Manuscript, more: Content["fields"] = {}): Content => ({
  title: "T",
  fields: { body, ...more },
});

describe("what a save sends", () => {
  const contents = fc.record({
    title: fc.constantFrom("A", "B"),
    fields: fc.record({ body: anyManuscript, season: fc.constantFrom("May", "June") }, { requiredKeys: [] }),
  }) as fc.Arbitrary<Content>;

  test("the patch between any two contents, sent as JSON, makes one of the other", () =>
    fc.assert(
      fc.property(contents, contents, (before, after) => {
        const patch = patchBetween(before, after);
        if (!patch) return expect(before).toEqual(after);
        const sent = patchSchema.parse(JSON.parse(JSON.stringify(patch)));
        expect(applyPatch(before, sent)).toEqual(JSON.parse(JSON.stringify(after)));
      }),
    ));

  test("of one paragraph among many it sends that paragraph", () => {
    const many = Array.from({ length: 400 }, (_, i) => `Paragraph ${i} of a long text.`);
    const patch = patchBetween(holding(doc(...many)), holding(doc(...many.with(200, "Another."))));
    expect(patch).toEqual({ fields: { body: { splice: { head: 200, tail: 199, blocks: [p("Another.")] } } } });
  });

  test("one taken from a longer text, or from a field that held none, does not fit", () => {
    const splice = { head: 2, tail: 2, blocks: [] };
    expect(applyPatch(holding(doc("a", "b")), { fields: { body: { splice } } })).toBeNull();
    expect(applyPatch({ title: "T", fields: {} }, { fields: { body: { splice } } })).toBeNull();
    expect(patchSchema.safeParse({ fields: { body: { splice: { head: -1, tail: 0, blocks: [] } } } }).success).toBe(
      false,
    );
    expect(patchSchema.safeParse(null).success).toBe(false);
  });
});

describe("two texts that grew from one", () => {
  const base = holding(doc("one", "two", "three"), { season: "May" });
  test.each<[string, Content, Content, Content | null, string[]]>([
    [
      "different paragraphs",
      holding(doc("ONE", "two", "three"), { season: "May" }),
      holding(doc("one", "two", "THREE"), { season: "May" }),
      holding(doc("ONE", "two", "THREE"), { season: "May" }),
      [],
    ],
    [
      "neighbouring paragraphs",
      holding(doc("ONE", "two", "three")),
      holding(doc("one", "TWO", "three")),
      holding(doc("ONE", "TWO", "three")),
      [],
    ],
    [
      "a paragraph and a field",
      holding(doc("one", "two", "three", "four"), { season: "May" }),
      holding(doc("one", "two", "three"), { season: "June" }),
      holding(doc("one", "two", "three", "four"), { season: "June" }),
      [],
    ],
    [
      "the same change",
      holding(doc("one", "2", "three")),
      holding(doc("one", "2", "three")),
      holding(doc("one", "2", "three")),
      [],
    ],
    [
      "the same paragraph",
      holding(doc("one", "mine", "three")),
      holding(doc("one", "theirs", "three")),
      null,
      ["body"],
    ],
    [
      "one emptied a field the other left",
      { ...base, fields: { body: doc("one", "two", "three") } },
      base,
      holding(doc("one", "two", "three")),
      [],
    ],
  ])("%s", (_, mine, theirs, merged, conflicts) => {
    const result = mergeContents(base, mine, theirs);
    expect(result.conflicts).toEqual(conflicts);
    if (merged) expect(result.content).toEqual(merged);
  });

  test("nothing of mine is lost, whatever theirs is: it is merged, or named as apart", () =>
    fc.assert(
      fc.property(anyManuscript, anyManuscript, anyManuscript, (was, mine, theirs) => {
        const { content, conflicts } = mergeContents(holding(was), holding(mine), holding(theirs));
        const merged = JSON.stringify(content.fields.body);
        const added = (mine.content as Block[]).filter((block) => !JSON.stringify(was).includes(JSON.stringify(block)));
        if (conflicts.length > 0) expect(content.fields.body).toEqual(mine);
        else for (const block of added) expect(merged).toContain(JSON.stringify(block));
        expect(mergeContents(holding(was), holding(mine), holding(was)).content.fields.body).toEqual(mine);
        expect(mergeContents(holding(was), holding(was), holding(theirs)).content.fields.body).toEqual(theirs);
      }),
    ));
});

describe("what a field holds", () => {
  const field = (type: Field["type"], more: Partial<Field> = {}): Field => ({
    key: "f",
    name: "F",
    type,
    required: false,
    ...more,
  });
  const read = (one: Field, value: unknown) => readContent([one], { title: "T", fields: { f: value } });
  const id = "0199aaaa-0000-7000-8000-000000000000";
  test.each<[string, Field, unknown, unknown]>([
    ["a number", field("number"), 14.2, 14.2],
    ["nothing for an empty line", field("line"), "  ", undefined],
    ["a date", field("date"), "2026-02-28", "2026-02-28"],
    ["a link", field("link"), "https://fontelba.example", "https://fontelba.example"],
    ["a piece", field("piece"), id, id],
    ["a choice that is no longer offered", field("choice", { options: ["T1"] }), "T9", "T9"],
  ])("%s is kept", (_, one, value, kept) => {
    expect(read(one, value)).toEqual({ content: { title: "T", fields: kept === undefined ? {} : { f: kept } } });
  });

  test.each<[string, Field, unknown]>([
    ["words for a number", field("number"), "14"],
    ["no number at all", field("number"), Number.NaN],
    ["the thirtieth of February", field("date"), "2026-02-30"],
    ["a date said otherwise", field("date"), "28.2.2026"],
    ["a link that runs a script", field("link"), "javascript:alert(1)"],
    ["a piece by its title", field("piece"), "The salt road"],
    ["a picture without a file", field("image"), { file: "x", alt: "", caption: "", credit: "" }],
    ["a line of a hundred thousand characters", field("line"), "x".repeat(100_000)],
  ])("%s is refused", (_, one, value) => {
    expect(read(one, value)).toHaveProperty("problems");
  });

  const picture = { file: "ab".repeat(32), alt: "", caption: "", credit: "G. Ferrante" };
  test.each<[string, Field, Content["fields"][string] | undefined, string[]]>([
    ["too many characters", field("line", { maxCharacters: 3 }), "👩‍👩‍👧abc", ["F has 4 characters, at most 3 fit"]],
    ["below the least", field("number", { least: 1, unit: "km" }), 0.5, ["F is less than 1 km"]],
    ["above the most", field("number", { most: 9 }), 10, ["F is more than 9"]],
    ["nought is a value", field("number", { required: true }), 0, []],
    ["missing", field("date", { required: true }), undefined, ["F is empty"]],
    ["not offered", field("choice", { options: ["T1"] }), "T9", ["F is not among the choices"]],
    ["a picture nobody described", field("image"), picture, ["F: a picture has no description for who cannot see it"]],
  ])("it says what is wanting: %s", (_, one, value, expected) => {
    const content: Content = { title: "T", fields: value === undefined ? {} : { f: value } };
    const found = fieldProblems([one], content, countFields(content));
    expect(found.map((problem) => problem.sentence)).toEqual(expected);
  });

  test("limits that contradict each other make no field", () => {
    expect(fieldSchema.safeParse({ key: "f", name: "F", type: "choice" }).success).toBe(false);
    expect(fieldSchema.safeParse({ key: "f", name: "F", type: "number", least: 2, most: 1 }).success).toBe(false);
  });

  test("values as one says them", () => {
    const say = (one: Field, value: Content["fields"][string]) => sayValue(one, { title: "T", fields: { f: value } });
    expect(say(field("number", { unit: "m" }), 1980)).toBe("1,980 m");
    expect(say(field("date"), "2026-11-24")).toBe("24 November 2026");
    expect(say(field("manuscript"), doc("x"))).toBe("");
    expect(isFact(field("piece"))).toBe(false);
    expect(referredTo([field("piece")], { title: "T", fields: { f: id } })).toEqual([id]);
  });
});

test("a comparison goes field by field and counts what came and went", () => {
  const fields: Field[] = [
    { key: "body", name: "Text", type: "manuscript", required: true },
    { key: "distance", name: "Distance", type: "number", required: false },
  ];
  const before = { title: "Old road", fields: { body: doc("one two three"), distance: 14 } };
  const after = { title: "Old salt road", fields: { body: doc("one two four five"), distance: 14 } };
  const compared = compareContents(fields, before, after);
  expect(compared.map(({ key, change }) => [key, change.kind])).toEqual([
    ["title", "words"],
    ["body", "blocks"],
    ["distance", "same"],
  ]);
  expect(wordsChanged(compared)).toEqual({ added: 3, removed: 1 });
});

describe("fields that hold no words, compared", () => {
  const fields: Field[] = [
    { key: "lead", name: "Lead", type: "image", required: false },
    { key: "track", name: "Track", type: "file", required: false },
    { key: "hut", name: "Hut", type: "piece", required: false },
    { key: "ascent", name: "Ascent", type: "number", unit: "m", required: false },
  ];
  const [a, b] = ["a".repeat(64), "b".repeat(64)];
  const picture = (file: string, alt = "A hut") => ({ file, alt, caption: "", credit: "G. F." });
  const compared = (before: Content["fields"], after: Content["fields"], names = {}) =>
    compareContents(fields, { title: "T", fields: before }, { title: "T", fields: after }, names)
      .filter((one) => one.change.kind !== "same")
      .map(({ key, change }) => [
        key,
        change.kind === "blocks"
          ? change.changes.map((one) => one.kind)
          : change.kind === "words" && change.runs.map((run) => run.kind).join(),
      ]);

  test.each<[string, Content["fields"], Content["fields"], unknown[]]>([
    ["a picture that came", {}, { lead: picture(a) }, [["lead", ["added"]]]],
    ["one that went", { lead: picture(a) }, {}, [["lead", ["removed"]]]],
    ["the same picture", { lead: picture(a) }, { lead: picture(a) }, []],
  ])("%s is shown as a picture", (_, before, after, expected) => {
    expect(compared(before, after)).toEqual(expected);
  });

  test("files and pieces by their names, numbers with their unit, and an id nobody may know stays unknown", () => {
    const words = (key: string, fieldsThen: Content["fields"], fieldsNow: Content["fields"], names = {}) => {
      const found = compareContents(
        fields,
        { title: "T", fields: fieldsThen },
        { title: "T", fields: fieldsNow },
        names,
      );
      return JSON.stringify(found.find((one) => one.key === key)?.change);
    };
    expect(words("track", { track: a }, { track: b }, { [a]: "old.gpx", [b]: "new.gpx" })).toMatch(/old.*new/s);
    expect(words("ascent", { ascent: 1200 }, {})).toContain("1,200 m");
    const secret = words("hut", {}, { hut: "0199aaaa-0000-7000-8000-000000000000" });
    expect(secret).toContain("a piece that is not shown to you");
    expect(secret).not.toContain("0199aaaa");
  });
});
