import fc from "fast-check";
import type { Calendar } from "../time/calendar.ts";
import { type EditionAhead, earliest, sayEarliest } from "./earliest.ts";

const day: [string, string][] = [
  ["09:00", "13:00"],
  ["14:00", "17:30"],
];
const CALENDAR: Calendar = {
  timeZone: "Europe/Rome",
  week: { mon: day, tue: day, wed: day, thu: day, fri: day },
  closed: [],
  special: [],
};
const at = (text: string) => Date.parse(`${text}+01:00`);
const NOW = at("2026-11-24T10:00");
const here = { calendar: CALENDAR, now: NOW };
const bulletin = (date: string, closes: string): EditionAhead => ({
  name: "bulletin",
  at: at(`${date}T07:00`),
  closesAt: at(closes),
});
const BULLETINS = [
  bulletin("2026-11-26", "2026-11-25T17:00"),
  bulletin("2026-12-03", "2026-12-02T17:00"),
  bulletin("2026-12-10", "2026-12-09T17:00"),
];
const LINE = [
  { key: "draft", take: "1wd" },
  { key: "copy", take: "1wd" },
  { key: "ready", take: null },
  { key: "live", take: null },
];

test.each<[string, string | null, boolean, EditionAhead[], string | null, string]>([
  ["nothing asks for time", null, false, [], null, "The earliest you can have is Tue 24 Nov."],
  ["the form asks for two days", "2wd", false, [], null, "The earliest you can have is Thu 26 Nov."],
  ["the line takes longer", "6wh", true, [], null, "The earliest you can have is Fri 27 Nov."],
  ["it is wished for in time", "2wd", false, [], "2026-12-03T09:00", "That can be met."],
  [
    "it is wished for too soon",
    "2wd",
    false,
    [],
    "2026-11-25T09:00",
    "That is too soon: the earliest you can have is Thu 26 Nov.",
  ],
  [
    "an edition closes before",
    "2wd",
    false,
    BULLETINS,
    "2026-11-26T09:00",
    "The bulletin of Thu 26 Nov closes Wed 25 Nov, 17:00; the earliest you can have is Thu 3 Dec.",
  ],
  [
    "a later edition takes it",
    "2wd",
    false,
    BULLETINS,
    "2026-12-03T09:00",
    "That can be met. It goes with the bulletin of Thu 3 Dec, or a later one.",
  ],
])("where %s", (_, lead, travels, editions, wished, says) => {
  const soonest = earliest(here, lead, travels ? LINE : [], editions, wished === null ? null : at(wished));
  expect(sayEarliest(soonest, "Europe/Rome", NOW)).toBe(says);
});

test("law: asked for later, nothing is out sooner; and what can be met was not wished for before it can be", () => {
  const hours = fc.integer({ min: 0, max: 400 });
  fc.assert(
    fc.property(hours, hours, fc.constantFrom(null, "6wh", "3wd"), (a, b, lead) => {
      const [sooner, later] = [Math.min(a, b), Math.max(a, b)].map((h) =>
        earliest({ ...here, now: NOW + h * 3_600_000 }, lead, LINE, [], null),
      );
      expect(later?.at).toBeGreaterThanOrEqual(sooner?.at ?? 0);
      const wished = NOW + Math.max(a, b) * 3_600_000;
      const asked = earliest(here, lead, LINE, BULLETINS, wished);
      expect(asked.met).toBe(wished >= asked.at);
    }),
  );
});
