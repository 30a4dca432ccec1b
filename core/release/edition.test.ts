import fc from "fast-check";
import { type Checked, checkEdition, type EditionPlan, editionPlanSchema, inParts, moved, partFor } from "./edition.ts";

const parts = [
  { key: "lead", name: "Lead" },
  { key: "news", name: "News" },
  { key: "dates", name: "Dates" },
];
const place = (pieceId: string, part: string) => ({ pieceId, part });
const items = [place("a", "news"), place("b", "news"), place("c", "dates"), place("d", "news")];
const order = (some: readonly { pieceId: string; part: string }[]) =>
  some.map((one) => `${one.part}:${one.pieceId}`).join(" ");

test.each([
  ["before another of its part", "d", "news", "a", "news:d news:a news:b dates:c"],
  ["to the end of its part", "a", "news", null, "news:b news:d news:a dates:c"],
  ["into another part", "b", "lead", null, "lead:b news:a news:d dates:c"],
  ["before one of another part", "a", "dates", "c", "news:b news:d dates:a dates:c"],
  ["before itself nothing moves", "a", "news", "a", "news:a news:b news:d dates:c"],
  ["before one that stands elsewhere it goes to the end", "a", "news", "c", "news:b news:d news:a dates:c"],
  ["a piece that is not in it", "x", "news", null, "news:a news:b news:d dates:c"],
  ["a part that is not there", "a", "letters", null, "news:a news:b news:d dates:c"],
])("%s", (_, pieceId, part, before, expected) => {
  expect(order(moved(items, parts, pieceId, part, before))).toBe(expected);
});

test("what stands in a part there is no more stands in the first", () => {
  expect(inParts([place("a", "letters"), place("b", "news")], parts).get("lead")).toEqual([place("a", "letters")]);
});

test("law: whatever is moved where, nothing is lost or doubled, and moved back everything stands as it did", () => {
  const some = fc.uniqueArray(fc.string({ minLength: 1, maxLength: 3 }), { minLength: 1, maxLength: 12 });
  fc.assert(
    fc.property(some, fc.infiniteStream(fc.nat()), (ids, stream) => {
      const numbers = stream[Symbol.iterator]();
      const any = <T>(from: readonly T[]): T => from[numbers.next().value % from.length] as T;
      const start = [
        ...inParts(
          ids.map((id) => place(id, any(parts).key)),
          parts,
        ).values(),
      ].flat();
      const item = any(start);
      const there = moved(start, parts, item.pieceId, any(parts).key, any([...ids, null]));
      expect(there.map((one) => one.pieceId).sort()).toEqual([...ids].sort());
      const group = inParts(start, parts).get(item.part) ?? [];
      const next = group[group.findIndex((one) => one.pieceId === item.pieceId) + 1];
      expect(moved(there, parts, item.pieceId, item.part, next?.pieceId ?? null)).toEqual(start);
    }),
  );
});

const takes: EditionPlan["takes"] = [
  { kind: "date", section: null, part: "dates" },
  { kind: "item", section: "walks", part: "lead" },
  { kind: null, section: "bulletin", part: "news" },
  { kind: null, section: null, part: "lead" },
];
test.each([
  ["its kind", "date", ["bulletin"], "dates"],
  ["its kind and a section above it", "item", ["ridge", "walks"], "lead"],
  ["its kind, in another section", "item", ["hut"], null],
  ["its section", "guide", ["bulletin"], "news"],
  ["nothing, as a rule of nothing takes nothing", "guide", ["hut"], null],
])("what belongs in by %s", (_, kindId, sectionIds, expected) => {
  expect(partFor({ takes }, { kindId, sectionIds })).toBe(expected);
});

const checked = (pieceId: string, more: Partial<Checked> = {}): Checked => ({
  pieceId,
  part: "news",
  slug: pieceId,
  words: 100,
  holds: [],
  expected: null,
  links: [],
  ...more,
});

test("looked over as a whole: what is ready, what is missing, what is late, files, links that lead nowhere, length", () => {
  const some = [
    checked("a", { links: ["b", "out", "nowhere", "nowhere"] }),
    checked("b", { holds: [{ code: "not-approved" }], expected: 5 }),
    checked("c", { holds: [{ code: "files", names: ["map"] } as never] }),
  ];
  expect(checkEdition(some, { unit: "words", number: 560 }, [["a", "b"]], new Set(["out"]))).toEqual({
    ready: ["a"],
    missing: ["b", "c"],
    late: ["b"],
    files: ["c"],
    doubles: [["a", "b"]],
    dangling: [{ pieceId: "a", slug: "nowhere" }],
    length: { unit: "words", all: 300, ready: 100, target: 560 },
  });
  expect(checkEdition(some, { unit: "items", number: 8 }, [], new Set()).length).toEqual({
    unit: "items",
    all: 3,
    ready: 1,
    target: 8,
  });
  expect(checkEdition([], null, [], new Set()).length).toEqual({ unit: "words", all: 0, ready: 0, target: null });
});

test.each([
  ["no name", { called: " " }],
  ["no part", { parts: [] }],
  ["a length that is none", { closes: "soon" }],
  ["a week without a day", { rhythm: { every: "week", days: [], at: "07:00", since: "2026-01-01" } }],
  ["a time that is none", { rhythm: { every: "month", day: 1, at: "7", since: "2026-01-01" } }],
  ["a 32nd", { rhythm: { every: "month", day: 32, at: "07:00", since: "2026-01-01" } }],
  ["what is not known", { colour: "red" }],
])("a plan with %s is refused", (_, more) => {
  const plan = { called: "Bulletin", rhythm: null, parts, closes: "14wh", target: null, takes: [], ...more };
  expect(editionPlanSchema.safeParse(plan).success).toBe(false);
});
