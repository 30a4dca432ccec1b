import fc from "fast-check";
import { WEEKDAYS } from "../time/calendar.ts";
import { localDate } from "../time/local.ts";
import { datesOf, type Rhythm, rhythmSchema, sayRhythm } from "./rhythm.ts";

const ROME = "Europe/Rome";
const at = (text: string) => Date.parse(text);
const weekly = (more: object): Rhythm =>
  rhythmSchema.parse({ every: "week", days: ["thu"], at: "07:00", since: "2026-01-01", ...more });
const monthly = (more: object): Rhythm =>
  rhythmSchema.parse({ every: "month", day: 31, at: "09:00", since: "2026-01-01", ...more });
const from = at("2026-11-26T09:00Z");

test.each<[string, Rhythm, number, string[]]>([
  ["every Thursday", weekly({}), from, ["2026-12-03T06:00Z", "2026-12-10T06:00Z"]],
  ["this Thursday has passed by a moment", weekly({}), at("2026-11-26T06:00Z"), ["2026-12-03T06:00Z"]],
  ["this Thursday is ahead by a moment", weekly({}), at("2026-11-26T05:59Z"), ["2026-11-26T06:00Z"]],
  ["two days a week", weekly({ days: ["tue", "thu"] }), from, ["2026-12-01T06:00Z", "2026-12-03T06:00Z"]],
  [
    "every second week, counted from one",
    weekly({ apart: 2, since: "2026-11-19" }),
    from,
    ["2026-12-03T06:00Z", "2026-12-17T06:00Z"],
  ],
  ["not before it begins", weekly({ since: "2027-01-01" }), from, ["2027-01-07T06:00Z"]],
  ["the last day of a short month", monthly({}), from, ["2026-11-30T08:00Z", "2026-12-31T08:00Z"]],
  ["February", monthly({}), at("2027-02-01T00:00Z"), ["2027-02-28T08:00Z"]],
  [
    "every quarter",
    monthly({ apart: 3, day: 1, since: "2026-09-01" }),
    from,
    ["2026-12-01T08:00Z", "2027-03-01T08:00Z"],
  ],
  ["in summer an hour earlier by UTC", weekly({}), at("2026-07-01T00:00Z"), ["2026-07-02T05:00Z"]],
])("%s", (_, rhythm, after, dates) => {
  expect(datesOf(rhythm, ROME, after, dates.length).map((one) => new Date(one).toISOString())).toEqual(
    dates.map((one) => new Date(one).toISOString()),
  );
});

test.each<[Rhythm, string]>([
  [weekly({}), "every Thursday, 07:00"],
  [weekly({ days: ["thu", "tue"] }), "every Tuesday and Thursday, 07:00"],
  [weekly({ apart: 2 }), "every 2 weeks on Thursday, 07:00"],
  [monthly({}), "every month on day 31, 09:00"],
  [monthly({ apart: 3, day: 1 }), "every 3 months on day 1, 09:00"],
])("in words: %#", (rhythm, words) => {
  expect(sayRhythm(rhythm)).toBe(words);
});

test("law: dates rise, none twice, each on a day of the rhythm and after the instant asked from; asked later, the rest", () => {
  fc.assert(
    fc.property(
      fc.uniqueArray(fc.constantFrom(...WEEKDAYS), { minLength: 1, maxLength: 7 }),
      fc.integer({ min: 1, max: 12 }),
      fc.integer({ min: at("2026-01-01T00:00Z"), max: at("2030-01-01T00:00Z") }),
      fc.constantFrom(ROME, "America/New_York", "Pacific/Auckland"),
      (days, apart, after, zone) => {
        const rhythm = weekly({ days, apart });
        const dates = datesOf(rhythm, zone, after, 20);
        expect(dates).toHaveLength(20);
        for (const [i, date] of dates.entries()) {
          expect(date).toBeGreaterThan(dates[i - 1] ?? after);
          const day = WEEKDAYS[(new Date(`${localDate(date, zone)}T00:00Z`).getUTCDay() + 6) % 7];
          expect(days).toContain(day);
        }
        expect(datesOf(rhythm, zone, dates[9] ?? 0, 10)).toEqual(dates.slice(10));
      },
    ),
    { numRuns: 60 },
  );
});
