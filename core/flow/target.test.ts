import fc from "fast-check";
import { localDate } from "../time/local.ts";
import { isInTime, type Kept, keptBy, type Outcome, outcomeOf, shareGone, shareStanding } from "./target.ts";

test.each<[number, number, number, number, Outcome]>([
  [12, 12, 0, 0.2, "reached"],
  [12, 13, 0, 1, "reached"],
  [12, 11, 0, 1, "missed"],
  [12, 0, 0, 0, "ahead"],
  [12, 9, 3, 0.8, "likely"],
  [12, 9, 2, 0.8, "at risk"],
  [12, 0, 0, 0.01, "at risk"],
])("of %i wanted, %i done and %i coming with %d of its time gone: %s", (wanted, done, coming, gone, outcome) => {
  expect(outcomeOf({ wanted, done, coming, gone })).toBe(outcome);
});

const OPEN: Kept = { inTime: null, isLikely: false };
const LIKELY: Kept = { inTime: null, isLikely: true };
const LATE: Kept = { inTime: false, isLikely: false };

test.each([
  [90, 0, 0],
  [90, 1, 1],
  [90, 10, 9],
  [90, 11, 10],
  [100, 7, 7],
  [1, 7, 1],
])("%i of a hundred of %i are %i", (share, dated, needed) => {
  expect(shareStanding(new Array(dated).fill(OPEN), share, 0.5).wanted).toBe(needed);
});

test.each<[string, Kept[], number, number, Outcome, number, number]>([
  ["nothing dated", [], 90, 0.5, "ahead", 0, 0],
  ["nothing dated, and it is over", [], 90, 1, "ahead", 0, 0],
  ["half of two, one in time", [{ inTime: true, isLikely: false }, LATE], 50, 0.5, "reached", 1, 0],
  ["all of two, one likely", [{ inTime: true, isLikely: false }, LIKELY], 100, 0.5, "likely", 1, 1],
  ["all of two, one late", [LIKELY, LATE], 100, 0.5, "at risk", 0, 1],
  ["what was likely as it ended came to nothing", [LIKELY, LIKELY], 50, 1, "missed", 0, 0],
  ["not begun", [LIKELY, OPEN], 50, 0, "ahead", 0, 1],
])("%s", (_, dated, share, gone, outcome, done, coming) => {
  expect(shareStanding(dated, share, gone)).toMatchObject({ outcome, done, coming, gone });
});

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
/** In the morning, as a thing is wished for. */
const WISHED = Date.parse("2026-12-03T06:00:00Z");

test.each<[string, { left: number | null; readyAt: number | null }, number, Kept]>([
  ["left on its day, hours after", { left: WISHED + 9 * HOUR, readyAt: null }, DAY, { inTime: true, isLikely: false }],
  ["left the day after", { left: WISHED + DAY, readyAt: null }, 2 * DAY, { inTime: false, isLikely: false }],
  ["open, and likely", { left: null, readyAt: WISHED - DAY }, -2 * DAY, { inTime: null, isLikely: true }],
  ["open, and likely too late", { left: null, readyAt: WISHED + 1 }, -2 * DAY, { inTime: null, isLikely: false }],
  ["open on the evening of its day", { left: null, readyAt: null }, 10 * HOUR, { inTime: null, isLikely: false }],
  ["not out, and its day is over", { left: null, readyAt: WISHED }, 2 * DAY, { inTime: false, isLikely: true }],
])("%s", (_, { left, readyAt }, later, kept) => {
  expect(keptBy({ wished: WISHED, left, readyAt }, WISHED + later, "Europe/Rome")).toEqual(kept);
});

test("in time is by the local day, whatever its length and wherever it is", () => {
  const instant = fc.integer({ min: Date.parse("2026-01-01"), max: Date.parse("2027-01-01") });
  const zone = fc.constantFrom("Europe/Rome", "America/New_York", "Australia/Lord_Howe", "Pacific/Apia", "UTC");
  fc.assert(
    fc.property(instant, fc.integer({ min: -40 * HOUR, max: 40 * HOUR }), zone, (wished, by, where) => {
      expect(isInTime(wished + by, wished, where)).toBe(localDate(wished + by, where) <= localDate(wished, where));
    }),
  );
});

test.each([
  ["2026-12-03T06:00:00Z", "2026-12-03T06:00:00Z", true],
  ["2026-12-03T22:59:00Z", "2026-12-03T06:00:00Z", true],
  ["2026-12-03T23:01:00Z", "2026-12-03T06:00:00Z", false],
  ["2026-12-01T12:00:00Z", "2026-12-03T06:00:00Z", true],
])("what came at %s for %s was in time: %s", (at, wished, inTime) => {
  expect(isInTime(Date.parse(at), Date.parse(wished), "Europe/Rome")).toBe(inTime);
});

test.each([
  [0, 10, -5, 0],
  [0, 10, 5, 0.5],
  [0, 10, 20, 1],
  [3, 3, 3, 0],
])("from %i to %i at %i so much is gone: %d", (from, until, now, gone) => {
  expect(shareGone(from, until, now)).toBe(gone);
});
