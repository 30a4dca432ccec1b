import { calendarSchema } from "./calendar-format.ts";
import { shiftByDays } from "./shift.ts";

const day: [string, string][] = [["09:00", "17:00"]];
const calendar = calendarSchema.parse({
  timeZone: "Europe/Rome",
  week: { mon: day, tue: day, wed: day, thu: day, fri: day },
  closed: ["2026-12-08"],
});
const at = (text: string) => Date.parse(text);

test.each([
  ["2026-11-26T16:00+01:00", 0, "2026-11-26T16:00+01:00"],
  ["2026-11-26T16:00+01:00", 1, "2026-11-27T16:00+01:00"],
  ["2026-11-27T16:00+01:00", 1, "2026-11-30T16:00+01:00"],
  ["2026-11-30T16:00+01:00", -1, "2026-11-27T16:00+01:00"],
  ["2026-12-07T16:00+01:00", 1, "2026-12-09T16:00+01:00"],
  ["2026-11-28T10:00+01:00", 1, "2026-11-30T10:00+01:00"],
  ["2026-10-23T16:00+02:00", 1, "2026-10-26T16:00+01:00"],
])("%s by %i working days is %s", (from, by, expected) => {
  expect(new Date(shiftByDays(calendar, at(from), by)).toISOString()).toBe(new Date(at(expected)).toISOString());
});

test("what is no number of days is refused, and so is a calendar that never opens", () => {
  for (const by of [0.5, 1e9, Number.NaN]) expect(() => shiftByDays(calendar, 0, by)).toThrow(RangeError);
  expect(() => shiftByDays({ ...calendar, week: {} }, 0, 1)).toThrow(/too few open days/);
});
