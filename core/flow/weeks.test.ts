import fc from "fast-check";
import { calendarSchema } from "../time/calendar-format.ts";
import { measure, type Stay } from "./measure.ts";
import { weeksOf } from "./weeks.ts";

const DAY = 86_400_000;
const ROME = calendarSchema.parse({
  timeZone: "Europe/Rome",
  week: Object.fromEntries(["mon", "tue", "wed", "thu", "fri"].map((day) => [day, [["09:00", "17:00"]]])),
});
const NOW = Date.parse("2026-11-24T08:00Z");
const LINE = ["draft", "check", "live"];
const period = { from: NOW - 28 * DAY, until: NOW };

const stay = fc
  .record({
    piece: fc.uuid(),
    state: fc.constantFrom(...LINE, "elsewhere"),
    arrivedAt: fc.integer({ min: NOW - 60 * DAY, max: NOW - 1 }),
    took: fc.option(fc.integer({ min: 0, max: 40 * DAY }), { nil: undefined }),
    back: fc.boolean(),
  })
  .map(({ took, ...one }): Stay => ({ ...one, ...(took !== undefined && { leftAt: one.arrivedAt + took }) }));

test("each week says what measuring that week says", () => {
  fc.assert(
    fc.property(fc.array(stay, { maxLength: 30 }), (stays) => {
      const weeks = weeksOf(ROME, LINE, period, stays);
      expect(weeks.map((one) => one.until - one.from)).toEqual(Array(4).fill(7 * DAY));
      for (const { from, until, waiting, returned, arrived } of weeks) {
        const on = measure(ROME, { from, until }, stays).filter(({ state }) => state === "draft" || state === "check");
        const sum = on.reduce((all, one) => all + one.waiting, 0);
        expect(waiting).toBeCloseTo(sum, 2);
        const within = (at: number | undefined) => at !== undefined && at >= from && at < until;
        expect(returned).toBe(
          stays.filter((one) => one.back && ["draft", "check"].includes(one.state) && within(one.leftAt)).length,
        );
        expect(arrived).toBe(stays.filter((one) => one.state === "live" && within(one.arrivedAt)).length);
      }
    }),
    { numRuns: 60 },
  );
});

test("of a period shorter than a week there are none, and a closed week holds nobody", () => {
  expect(weeksOf(ROME, LINE, { from: NOW - 6 * DAY, until: NOW }, [])).toEqual([]);
  const closed = { ...ROME, closed: ["2026-11-16", "2026-11-17", "2026-11-18", "2026-11-19", "2026-11-20"] };
  const there: Stay = { piece: "a", state: "check", arrivedAt: NOW - 20 * DAY };
  const until = Date.parse("2026-11-23T00:00+01:00");
  expect(weeksOf(closed, LINE, { from: until - 7 * DAY, until }, [there])).toEqual([
    { from: until - 7 * DAY, until, arrived: 0, returned: 0, waiting: 0 },
  ]);
  expect(weeksOf(ROME, LINE, { from: until - 7 * DAY, until }, [there])[0]?.waiting).toBe(1);
});
