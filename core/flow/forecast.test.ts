import { readFileSync } from "node:fs";
import fc from "fast-check";
import type { Calendar } from "../time/calendar.ts";
import { calendarSchema } from "../time/calendar-format.ts";
import { openTime } from "../time/due.ts";
import { type Forecast, forecast, type Question, type Stop } from "./forecast.ts";
import { measure, type Stay } from "./measure.ts";

interface Case {
  calendar: number;
  forecast: Omit<Question, "now" | "pieces"> & {
    now: string;
    pieces: { id: string; at: string; since: string; publishAt?: string }[];
  };
  expect: { id: string; p50: string; p85: string; onTime?: number }[];
}
const read = JSON.parse(readFileSync(new URL("cases/forecast.json", import.meta.url), "utf8")) as {
  calendars: unknown[];
  cases: Case[];
};
const calendars = read.calendars.map((one) => calendarSchema.parse(one));
const ROME = calendars[0] as Calendar;
const at = Date.parse;

test.each(read.cases.map((one, i): [number, Case] => [i, one]))(
  "case %i of forecasting",
  (_, { calendar, forecast: asked, expect: wanted }) => {
    const pieces = asked.pieces.map(({ since, publishAt, ...one }) => ({
      ...one,
      since: at(since),
      ...(publishAt && { publishAt: at(publishAt) }),
    }));
    const found = forecast(calendars[calendar] as Calendar, { ...asked, now: at(asked.now), pieces });
    expect(found).toEqual(wanted.map((one): Forecast => ({ ...one, p50: at(one.p50), p85: at(one.p85) })));
  },
);

const NOW = at("2026-11-24T09:00Z");
const HOUR = 3_600_000;
const takes = fc.array(fc.integer({ min: 0, max: 3_000 }), { minLength: 1, maxLength: 6 });
const stop = fc.record({ takes, capacity: fc.option(fc.integer({ min: 1, max: 4 }), { nil: undefined }) });
const lines = fc.array(stop, { minLength: 1, maxLength: 4 }).chain((stops) =>
  fc.record({
    now: fc.constant(NOW),
    runs: fc.constant(40),
    seed: fc.integer({ min: 0, max: 4_294_967_295 }),
    states: fc.constant<Stop[]>([
      ...stops.map((one, i) => ({ state: `s${i}`, ...one })),
      { state: "live", takes: [], capacity: undefined },
    ]),
    pieces: fc
      .array(
        fc.record({ at: fc.integer({ min: 0, max: stops.length - 1 }), hours: fc.integer({ min: 0, max: 500 }) }),
        {
          maxLength: 12,
        },
      )
      .map((some) =>
        some.map(({ at: i, hours }, n) => ({
          id: `p${n}`,
          at: `s${i}`,
          since: NOW - hours * HOUR,
          publishAt: NOW + 48 * HOUR,
        })),
      ),
  }),
);

test("law: half are there before 85 of 100, nobody before now, and the same seed gives the same answer", () => {
  fc.assert(
    fc.property(lines, (question) => {
      const found = forecast(ROME, question);
      expect(forecast(ROME, question)).toEqual(found);
      for (const { p50, p85, onTime } of found) {
        expect(p50).toBeLessThanOrEqual(p85);
        expect(p50).toBeGreaterThanOrEqual(NOW);
        expect(onTime).toBeGreaterThanOrEqual(0);
        expect(onTime).toBeLessThanOrEqual(1);
      }
    }),
    { numRuns: 60 },
  );
});

test("law: more places make nobody later on the whole: the first arrives no later than the first did, and so on", () => {
  fc.assert(
    fc.property(lines, fc.nat(), fc.integer({ min: 1, max: 3 }), (question, which, more) => {
      const i = which % (question.states.length - 1);
      // Where each takes as long as the other, who overtakes whom makes no difference.
      const states = question.states.map((one) => ({ ...one, takes: [...one.takes.slice(0, 1)] }));
      const wider = states.map((one, n) => (n === i ? { ...one, capacity: (one.capacity ?? 20) + more } : one));
      const narrow = states.map((one, n) => (n === i ? { ...one, capacity: one.capacity ?? 20 } : one));
      const pieces = question.pieces.map((one) => ({ ...one, since: NOW }));
      const arrive = (line: readonly Stop[]) =>
        forecast(ROME, { ...question, pieces, states: line })
          .map((one) => one.p50)
          .sort((a, b) => a - b);
      const before = arrive(narrow);
      for (const [n, after] of arrive(wider).entries()) expect(after).toBeLessThanOrEqual(before[n] ?? 0);
    }),
    { numRuns: 120 },
  );
});

test("a piece does not wait for who comes after it, and what is done is there now", () => {
  const states = [
    { state: "check", takes: [60], capacity: 1 },
    { state: "live", takes: [] },
  ];
  const pieces = [
    { id: "b", at: "check", since: NOW - HOUR / 2 },
    { id: "a", at: "check", since: NOW - 100 * HOUR },
  ];
  const [second, first] = forecast(ROME, { now: NOW, runs: 5, seed: 1, states, pieces });
  expect(first).toEqual({ id: "a", p50: NOW, p85: NOW });
  expect(second).toEqual({ id: "b", p50: NOW + HOUR, p85: NOW + HOUR });
});

test("Little's law holds on long random stays: who is there on average is how many leave times how long they take", () => {
  const day = 24 * HOUR;
  fc.assert(
    fc.property(fc.array(fc.integer({ min: 1, max: 40 }), { minLength: 200, maxLength: 400 }), (hours) => {
      const from = at("2026-01-05T00:00Z");
      const until = from + hours.length * day;
      const stays = hours.map(
        (length, i): Stay => ({
          piece: `p${i}`,
          state: "s",
          arrivedAt: from + i * day,
          leftAt: Math.min(from + i * day + length * HOUR, until - 1),
        }),
      );
      const [found] = measure(ROME, { from, until }, stays);
      const took = stays.reduce((sum, one) => sum + openTime(ROME, one.arrivedAt, one.leftAt ?? until), 0);
      expect(found?.waiting).toBeCloseTo(((found?.left ?? 0) * (took / stays.length)) / openTime(ROME, from, until), 2);
    }),
    { numRuns: 10 },
  );
});
