import fc from "fast-check";
import { daysOnEnd, localDate } from "./local.ts";

const DAY = 86_400_000;

test.each([
  ["a clock that goes forward", "2027-03-22", "Europe/Rome"],
  ["a clock that goes back", "2026-10-19", "Europe/Rome"],
  ["a day that was left out", "2011-12-24", "Pacific/Apia"],
])("the place of an instant is that of its local date: %s", (_, first, zone) => {
  const { days, starts, placeOf } = daysOnEnd(first, 14, zone);
  expect(days).toHaveLength(14);
  const [from = 0] = starts;
  const until = starts.at(-1) ?? 0;
  fc.assert(
    fc.property(fc.integer({ min: from - 2 * DAY, max: until + 2 * DAY }), (at) => {
      const place = placeOf(at);
      if (at < from || at >= until) expect(place).toBe(-1);
      else expect(days[place]).toBe(localDate(at, zone));
    }),
  );
  for (const start of starts.slice(0, 14)) expect(days[placeOf(start)]).toBe(localDate(start, zone));
});
