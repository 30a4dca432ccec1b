import fc from "fast-check";
import { calendarSchema } from "./calendar-format.ts";
import { isClosed, type Reader, readDay, readMoment, sayDay, sayMoment } from "./read.ts";

const hours: [string, string][] = [
  ["09:00", "13:00"],
  ["14:00", "17:30"],
];
const calendar = calendarSchema.parse({
  timeZone: "Europe/Rome",
  week: { mon: hours, tue: hours, wed: hours, thu: hours, fri: hours },
  closed: ["2026-12-08"],
});
/** Thursday 26 November 2026, 11:00 in Rome. */
const reader: Reader = { now: Date.UTC(2026, 10, 26, 10), zone: "Europe/Rome", calendar };

test.each([
  ["2026-12-01", "2026-12-01"],
  ["today", "2026-11-26"],
  [" Tomorrow ", "2026-11-27"],
  ["thu", "2026-12-03"],
  ["Monday", "2026-11-30"],
  ["26 Nov", "2026-11-26"],
  ["1st December", "2026-12-01"],
  ["1.12.", "2026-12-01"],
  ["1/12", "2026-12-01"],
  ["3.2.2027", "2027-02-03"],
  ["3 Feb", "2027-02-03"],
  ["Tue 3 Feb", "2026-02-03"],
  ["in 3 wd", "2026-12-01"],
  ["in 2 weeks", "2026-12-10"],
  ["10 d", "2026-12-06"],
])("the day %s is %s", (text, day) => expect(readDay(text, reader)).toBe(day));

test.each([
  ["2026-12-01T08:15", "2026-12-01T08:15"],
  ["tomorrow 9", "2026-11-27T09:00"],
  ["tomorrow at 9", "2026-11-27T09:00"],
  ["Thu 26 Nov, 17:30", "2026-11-26T17:30"],
  ["today, 17.30", "2026-11-26T17:30"],
  ["17:30", "2026-11-26T17:30"],
  ["9h", "2026-11-26T09:00"],
  ["in 4 h", "2026-11-26T15:00"],
  ["fri", "2026-11-27T17:30"],
  ["sat", "2026-11-28T12:00"],
  ["in 3 wd", "2026-12-01T17:30"],
  ["in 3 wd 10:00", "2026-12-01T10:00"],
  ["1.12. 7", "2026-12-01T07:00"],
])("the moment %s is %s", (text, moment) => expect(readMoment(text, reader)).toBe(moment));
test("a day without a time is meant at the usual one, where there is one", () => {
  expect(readMoment("tomorrow", { ...reader, usual: "06:30" })?.slice(10)).toBe("T06:30");
  expect(readMoment("tomorrow 9", { ...reader, usual: "06:30" })?.slice(10)).toBe("T09:00");
  expect(readMoment("tomorrow", { ...reader, usual: null })).toBe(readMoment("tomorrow", reader));
});

test.each(["", "soon", "31 Feb", "2026-13-01", "26", "25:00", "12/13", "thursday week", "in 3 lakes", "9 9 9"])(
  "%j is no date",
  (text) => {
    expect(readDay(text, reader)).toBeNull();
    expect(readMoment(text, reader)).toBeNull();
  },
);

test("a day with a time is no mere day", () => expect(readDay("tomorrow 9", reader)).toBeNull());

test("what is said is read as the same, at any time of any year", () => {
  const minute = fc.integer({ min: Date.UTC(2020, 0) / 60_000, max: Date.UTC(2035, 0) / 60_000 });
  fc.assert(
    fc.property(minute, minute, (at, now) => {
      const then = { ...reader, now: now * 60_000 };
      const moment = new Date(at * 60_000).toISOString().slice(0, 16);
      // An hour that the clock skips is said as the one it becomes.
      fc.pre(readMoment(sayMoment(moment, then), then)?.slice(11) === moment.slice(11));
      expect(readMoment(sayMoment(moment, then), then)).toBe(moment);
      expect(readDay(sayDay(moment.slice(0, 10), then), then)).toBe(moment.slice(0, 10));
    }),
  );
});

test("whatever is typed, an answer comes and is a date", () => {
  fc.assert(
    fc.property(fc.string({ maxLength: 400 }), (text) => {
      expect(readMoment(text, reader) ?? "2026-01-01T00:00").toMatch(/^\d{4}-\d\d-\d\dT\d\d:\d\d$/);
    }),
  );
});

test("weekends and closed dates are closed", () => {
  expect(["2026-11-27", "2026-11-28", "2026-12-08"].map((day) => isClosed(day, reader))).toEqual([false, true, true]);
});
