import { readFileSync } from "node:fs";
import fc from "fast-check";
import type { Calendar } from "./calendar.ts";
import { calendarSchema } from "./calendar-format.ts";
import { due, openTime } from "./due.ts";
import { METER_DAYS, meterOf } from "./meter.ts";

const file = JSON.parse(readFileSync("core/time/cases/working-time.json", "utf8"));
const calendars: Calendar[] = file.calendars.map((calendar: unknown) => calendarSchema.parse(calendar));
const instant = (text: string) => Date.parse(text);
const HOUR = 3_600_000;

/** Monday to Thursday, with a pause at noon; a Monday in May is closed. */
const hut: Calendar = calendarSchema.parse({
  timeZone: "Europe/Rome",
  week: {
    mon: [
      ["09:00", "12:00"],
      ["13:00", "18:00"],
    ],
    tue: [["09:00", "17:00"]],
    wed: [["09:00", "17:00"]],
    thu: [["09:00", "17:00"]],
    fri: [],
    sat: [],
    sun: [],
  },
  closed: ["2026-05-04"],
});

test.each<[at: string, hours: number]>([
  ["2026-04-20T00:00:00Z", 0],
  ["2026-04-20T08:00:00Z", 1],
  ["2026-04-20T10:30:00Z", 3],
  ["2026-04-20T11:30:00Z", 3.5],
  ["2026-04-23T20:00:00Z", 32],
  ["2026-04-26T12:00:00Z", 32],
  ["2026-05-04T12:00:00Z", 64],
  ["2026-05-05T08:00:00Z", 65],
])("by %s the meter of a hut shows %f hours", (at, hours) => {
  expect(meterOf(hut, instant("2026-04-19T12:00:00Z")).at(instant(at))).toBe(hours * HOUR);
});

test.each<[hours: number, at: string]>([
  [-1, "2026-04-20T10:30:00Z"],
  [0, "2026-04-20T10:30:00Z"],
  [5, "2026-04-20T16:00:00Z"],
  [5.5, "2026-04-21T07:30:00Z"],
  [30, "2026-04-27T08:00:00Z"],
])("from a Monday's noon on %f hours have passed by %s", (hours, at) => {
  expect(new Date(meterOf(hut, instant("2026-04-20T10:30:00Z")).instantOf(hours * HOUR))).toEqual(new Date(at));
});

test("a calendar that never opens is said so, and not looked at for ever", () => {
  const never = { ...hut, week: { ...hut.week, mon: [], tue: [], wed: [], thu: [] } };
  const meter = meterOf(never, instant("2026-04-20"));
  expect(meter.at(instant("2027-04-20"))).toBe(0);
  expect(() => meter.instantOf(1)).toThrow(RangeError);
  expect(() => meter.at(instant("2026-04-20") + (METER_DAYS + 2) * 24 * HOUR)).toThrow("forty years");
});

describe("laws", () => {
  const calendar = fc.constantFrom(hut, ...calendars);
  const minute = fc
    .integer({ min: instant("2026-01-01") / 60_000, max: instant("2027-06-30") / 60_000 })
    .map((one) => one * 60_000);
  const later = fc.integer({ min: 0, max: 200_000 }).map((one) => one * 60_000);

  test("between two instants a meter shows the open time between them, whatever it was asked before", () =>
    fc.assert(
      fc.property(calendar, minute, fc.array(later, { minLength: 1, maxLength: 6 }), (cal, from, asked) => {
        const meter = meterOf(cal, from);
        for (const by of asked) expect(meter.at(from + by)).toBe(openTime(cal, from, from + by));
      }),
    ));

  test("what is due after hours of work is when the meter has come so far", () =>
    fc.assert(
      fc.property(calendar, minute, fc.integer({ min: 1, max: 400 }), (cal, from, half) => {
        expect(meterOf(cal, from).instantOf((half * HOUR) / 2)).toBe(due(cal, from, `${half / 2}wh`));
      }),
    ));

  test("the meter stands where it says it has come to, and a moment before it does not", () =>
    fc.assert(
      fc.property(calendar, minute, fc.integer({ min: 1, max: 900 * HOUR }), (cal, from, open) => {
        const meter = meterOf(cal, from);
        const at = meter.instantOf(open);
        expect(meter.at(at)).toBe(open);
        expect(meter.at(at - 1)).toBe(open - 1);
      }),
    ));

  test("it never runs back", () =>
    fc.assert(
      fc.property(calendar, minute, later, later, (cal, from, a, b) => {
        const meter = meterOf(cal, from);
        expect(meter.at(from + Math.max(a, b))).toBeGreaterThanOrEqual(meter.at(from + Math.min(a, b)));
      }),
    ));
});
