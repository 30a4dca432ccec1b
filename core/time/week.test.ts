import { calendarSchema } from "./calendar-format.ts";
import { nextWeekBegins } from "./week.ts";

const ROME = calendarSchema.parse({
  timeZone: "Europe/Rome",
  week: Object.fromEntries(["mon", "tue", "wed", "thu", "fri"].map((day) => [day, [["09:00", "17:30"]]])),
  closed: ["2026-12-07", "2026-12-08"],
});

test.each([
  ["from a Tuesday", "2026-11-24T10:00Z", "2026-11-30T08:00Z"],
  ["from a Sunday", "2026-11-29T22:59Z", "2026-11-30T08:00Z"],
  ["from a Monday, an hour after it began in Rome", "2026-11-29T23:59Z", "2026-12-09T08:00Z"],
  ["where the Monday and the Tuesday are closed", "2026-12-01T10:00Z", "2026-12-09T08:00Z"],
  ["over a clock change", "2026-03-25T10:00Z", "2026-03-30T07:00Z"],
])("the week after begins when work does: %s", (_, after, begins) => {
  expect(nextWeekBegins(ROME, Date.parse(after))).toBe(Date.parse(begins));
});

test("a calendar that never opens says so", () => {
  const closed = { ...ROME, week: {}, closed: [] };
  expect(() => nextWeekBegins(closed, 0)).toThrow(RangeError);
});
