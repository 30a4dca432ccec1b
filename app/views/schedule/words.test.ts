import type { Finding } from "#core/release/findings.ts";
import type { Mark } from "#server/schedule/mark.ts";
import { type Saying, sayFinding, sayStanding } from "./words.ts";

const at = (text: string) => Date.parse(text);
const saying: Saying = {
  now: at("2026-11-24T09:00Z"),
  zone: "Europe/Rome",
  name: (id) => ({ w: "Winter", k: "Route guide" })[id] ?? "it",
  title: (id) => `Piece ${id}`,
  channel: (key) => (key === "site" ? null : "the bulletin"),
  until: at("2027-01-04T00:00+01:00"),
};
const mark = (more: Partial<Mark>): Mark => ({
  id: "p",
  pieceId: "p",
  to: "/pieces/p",
  channel: "site",
  edition: null,
  title: "P",
  revision: 1,
  what: "planned",
  at: at("2026-12-03T16:30Z"),
  kindId: "k",
  sectionId: "s",
  sectionIds: ["s"],
  authorId: "a",
  subject: "",
  way: null,
  ready: true,
  expected: null,
  replaces: false,
  holds: [],
  by: "Ada",
  movable: true,
  confirmable: false,
  ...more,
});

test.each<[string, Partial<Mark>]>([
  ["planned", {}],
  ["in place of what readers see", { replaces: true }],
  ["proposed by Ada", { what: "proposed" }],
  ["left", { what: "left" }],
  ["readers see it until then", { what: "ends" }],
  ["not ready yet", { what: "wished", ready: false }],
  ["expected Fri 4 Dec", { what: "wished", ready: false, expected: at("2026-12-04T16:30Z") }],
  ["ready, to be planned", { what: "wished" }],
  ["ready; its date passed without a plan", { what: "wished", at: at("2026-11-23T09:00Z") }],
  ["held: The text was changed.", { what: "held", holds: ["The text was changed."] }],
  ["will be held: The text was changed.", { holds: ["The text was changed."] }],
])("it is said: %s", (says, more) => {
  expect(sayStanding(mark(more), saying)).toBe(says);
});

test.each<[Finding, string, string]>([
  [
    { code: "too-many", ids: ["1", "2", "3", "4", "5"], from: at("2026-11-30T16:30Z"), until: at("2026-11-30T18:00Z") },
    "5 pieces leave Mon 30 Nov",
    "Piece 1, Piece 2, Piece 3 and 2 more",
  ],
  [
    { code: "same-subject", ids: ["1", "2"], from: at("2026-11-30T08:00Z"), until: at("2026-11-30T18:00Z") },
    "2 pieces on one subject Mon 30 Nov",
    "Piece 1 and Piece 2",
  ],
  [
    { code: "too-close", ids: ["1", "2"], from: at("2026-11-30T08:00Z"), until: at("2026-11-30T09:00Z") },
    "2 pieces of a kind close together, from Mon 30 Nov, 09:00",
    "Piece 1 and Piece 2",
  ],
  [
    {
      code: "gap",
      of: { of: "section", id: "w", days: 10 },
      from: at("2026-12-03T16:30Z"),
      until: at("2026-12-17T16:30Z"),
    },
    "Nothing of Winter between Thu 3 Dec and Thu 17 Dec",
    "14 days; one in 10 days is wanted.",
  ],
  [
    { code: "gap", of: { of: "all", id: "", days: 1 }, from: at("2026-12-28T16:30Z"), until: saying.until },
    "Nothing leaves after Mon 28 Dec",
    "6 days; one a day is wanted.",
  ],
])("%j is said in a sentence", (finding, headline, more) => {
  expect(sayFinding({ ...finding, channel: "site" }, saying)).toEqual({ headline, more });
});

test("what is found in another channel says so", () => {
  const gap: Finding = { code: "gap", of: { of: "all", id: "", days: 7 }, from: saying.now, until: saying.until };
  expect(sayFinding({ ...gap, channel: "bulletin" }, saying).headline).toBe(
    "Nothing leaves through the bulletin after Tue 24 Nov",
  );
});
