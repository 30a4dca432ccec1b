import { readFileSync } from "node:fs";
import fc from "fast-check";
import type { Calendar } from "./calendar.ts";
import { calendarSchema } from "./calendar-format.ts";
import { arriveBy, due, openTime } from "./due.ts";

const file = JSON.parse(readFileSync("core/time/cases/working-time.json", "utf8"));
const calendars: Calendar[] = file.calendars.map((calendar: unknown) => calendarSchema.parse(calendar));
const rome = calendars[0] as Calendar;
const instant = (text: string) => Date.parse(text);

describe("the table of cases", () => {
  test.each(file.cases as { calendar: number; from: string; take: string; due?: string; arriveBy?: string }[])(
    "$take from $from in calendar $calendar",
    (row) => {
      const calendar = calendars[row.calendar] as Calendar;
      if (row.due) expect(new Date(due(calendar, instant(row.from), row.take))).toEqual(new Date(row.due));
      if (row.arriveBy)
        expect(new Date(arriveBy(calendar, instant(row.from), row.take))).toEqual(new Date(row.arriveBy));
    },
  );
});

describe("laws", () => {
  const calendar = fc.constantFrom(...calendars);
  const minute = fc.integer({ min: instant("2026-01-01") / 60_000, max: instant("2027-12-31") / 60_000 });
  const working = fc.oneof(
    fc.integer({ min: 0, max: 12 }).map((n) => `${n}wd`),
    fc.integer({ min: 0, max: 120 }).map((n) => `${n / 2}wh`),
  );
  const any = fc.oneof(
    working,
    fc.integer({ min: 0, max: 9 }).map((n) => `${n}d`),
    fc.constant("5h"),
  );

  test("what arrives by then is due in time, and a minute later it is not", () =>
    fc.assert(
      fc.property(calendar, minute, any, (cal, leave, take) => {
        const t = arriveBy(cal, leave * 60_000, take);
        expect(due(cal, t, take)).toBeLessThanOrEqual(leave * 60_000);
        expect(due(cal, t + 60_000, take)).toBeGreaterThan(leave * 60_000);
      }),
      { numRuns: 300 },
    ));

  test("a later start is never due earlier", () =>
    fc.assert(
      fc.property(calendar, minute, fc.integer({ min: 0, max: 5000 }), working, (cal, from, more, take) => {
        expect(due(cal, (from + more) * 60_000, take)).toBeGreaterThanOrEqual(due(cal, from * 60_000, take));
      }),
    ));

  test("n working hours use exactly n open hours", () =>
    fc.assert(
      fc.property(calendar, minute, fc.integer({ min: 1, max: 60 }), (cal, from, hours) => {
        const end = due(cal, from * 60_000, `${hours}wh`);
        expect(openTime(cal, from * 60_000, end)).toBe(hours * 3_600_000);
      }),
    ));
});

test("a malformed length and a calendar that never opens are refused", () => {
  expect(() => due(rome, 0, "3 days")).toThrow(RangeError);
  const shut = { ...rome, week: { mon: [["09:00", "09:00"]] as [string, string][] } };
  expect(() => due(shut, 0, "1wh")).toThrow(/open time/);
  expect(calendarSchema.safeParse({ timeZone: "Rome", week: {} }).success).toBe(false);
});
