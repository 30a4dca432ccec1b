import { type Finding, type Leaving, lookOver, lookoutSchema, NOTHING_LOOKED_FOR } from "./findings.ts";

const ROME = "Europe/Rome";
const at = (text: string) => Date.parse(text);
const span = { from: at("2026-12-01T00:00+01:00"), until: at("2026-12-22T00:00+01:00") };
const leaving = (id: string, when: string, more: Partial<Leaving> = {}): Leaving => ({
  id,
  at: at(when),
  kindId: "guide",
  sectionIds: ["walks"],
  subject: "",
  ...more,
});
const found = (leavings: Leaving[], lookout: object) => lookOver(leavings, lookoutSchema.parse(lookout), span, ROME);
const said = (one: Finding) =>
  "ids" in one
    ? `${one.code}: ${one.ids}`
    : `gap: ${one.of.id} ${new Date(one.from).toISOString().slice(5, 10)} to ${new Date(one.until).toISOString().slice(5, 10)}`;

test.each<[string, Leaving[], object, string[]]>([
  [
    "more than two on a day",
    ["a", "b", "c"].map((id) => leaving(id, "2026-12-03T17:30+01:00")),
    { perDay: 2 },
    ["too-many: a,b,c"],
  ],
  [
    "two on a day, which are let pass",
    ["a", "b"].map((id) => leaving(id, "2026-12-03T17:30+01:00")),
    { perDay: 2 },
    [],
  ],
  [
    "a day is the publication's, not that of UTC",
    [leaving("a", "2026-12-03T00:30+01:00"), leaving("b", "2026-12-02T23:30+01:00")],
    { perDay: 1 },
    [],
  ],
  [
    "a run of a kind too close, one after the other",
    [
      leaving("a", "2026-12-03T08:00Z"),
      leaving("b", "2026-12-03T10:00Z"),
      leaving("c", "2026-12-03T12:00Z"),
      leaving("d", "2026-12-03T16:00Z"),
    ],
    { apart: 3 },
    ["too-close: a,b,c"],
  ],
  ["just so far apart", [leaving("a", "2026-12-03T08:00Z"), leaving("b", "2026-12-03T11:00Z")], { apart: 3 }, []],
  [
    "another kind in between",
    [leaving("a", "2026-12-03T08:00Z"), leaving("b", "2026-12-03T08:00Z", { kindId: "notice" })],
    { apart: 3 },
    [],
  ],
  [
    "the same subject on a day, however it is written; none is no subject",
    [
      leaving("a", "2026-12-03T08:00Z", { subject: "Monte Sora" }),
      leaving("b", "2026-12-03T18:00Z", { subject: "monte sora" }),
      leaving("c", "2026-12-03T09:00Z"),
      leaving("d", "2026-12-03T09:00Z"),
      leaving("e", "2026-12-04T08:00Z", { subject: "Monte Sora" }),
    ],
    { subject: "place" },
    ["same-subject: a,b"],
  ],
  [
    "a time without any of a kind, from the last to the next",
    [
      leaving("a", "2026-12-03T08:00Z"),
      leaving("b", "2026-12-17T08:00Z"),
      leaving("x", "2026-12-10T08:00Z", { kindId: "notice" }),
    ],
    { rhythms: [{ of: "kind", id: "guide", days: 10 }] },
    ["gap: guide 12-03 to 12-17"],
  ],
  [
    "a section counts what lies below it",
    [
      leaving("a", "2026-12-03T08:00Z", { sectionIds: ["winter", "walks"] }),
      leaving("b", "2026-12-10T08:00Z", { sectionIds: ["winter", "walks"] }),
    ],
    {
      rhythms: [
        { of: "section", id: "walks", days: 12 },
        { of: "section", id: "winter", days: 6 },
      ],
    },
    ["gap: winter 12-03 to 12-10", "gap: winter 12-10 to 12-21"],
  ],
  ["nothing at all in the span", [], { rhythms: [{ of: "all", id: "", days: 7 }] }, ["gap:  11-30 to 12-21"]],
])("%s", (_, leavings, lookout, expected) => {
  expect(found(leavings, lookout).map(said)).toEqual(expected);
  expect(found(leavings.toReversed(), lookout).map(said)).toEqual(expected);
});

test("moving something there and back changes nothing, and nothing is found that is not looked for", () => {
  const leavings = [
    leaving("a", "2026-12-03T08:00Z"),
    leaving("b", "2026-12-04T08:00Z"),
    leaving("c", "2026-12-05T08:00Z"),
  ];
  const lookout = { perDay: 1, apart: 30, rhythms: [{ of: "all", id: "", days: 3 }] };
  const before = found(leavings, lookout);
  const moved = leavings.map((one) => (one.id === "b" ? { ...one, at: at("2026-12-03T09:00Z") } : one));
  expect(found(moved, lookout)).not.toEqual(before);
  const back = moved.map((one) => (one.id === "b" ? { ...one, at: at("2026-12-04T08:00Z") } : one));
  expect(found(back, lookout)).toEqual(before);
  expect(lookOver(moved, NOTHING_LOOKED_FOR, span, ROME)).toEqual([]);
});
