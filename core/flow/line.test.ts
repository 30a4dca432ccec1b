import fc from "fast-check";
import { calendarSchema } from "../time/calendar-format.ts";
import { type LineQuestion, lineFlow } from "./line.ts";
import type { Stay } from "./measure.ts";
import { waysOf } from "./ways.ts";

const ROME = calendarSchema.parse({
  timeZone: "Europe/Rome",
  week: Object.fromEntries(["mon", "tue", "wed", "thu", "fri"].map((day) => [day, [["09:00", "17:00"]]])),
});
const NOW = Date.parse("2026-11-24T08:00Z");
const [HOUR, DAY] = [3_600_000, 86_400_000];
const LINE = [
  { key: "draft", take: "2wd" },
  { key: "check", take: "1wd" },
  { key: "live", take: null },
];
/** A piece that was at each stop for so many days, the last of them up to now where it did not arrive. */
const way = (piece: string, begins: number, ...days: number[]): Stay[] => {
  let at = begins;
  return days.map((length, i) => {
    const arrivedAt = at;
    at += length * DAY;
    const state = LINE[i]?.key ?? "live";
    return at > NOW || state === "live" ? { piece, state, arrivedAt } : { piece, state, arrivedAt, leftAt: at };
  });
};
const ask = (stays: Stay[], more: Partial<LineQuestion> = {}): LineQuestion => ({
  calendar: ROME,
  now: NOW,
  from: NOW - 42 * DAY,
  until: NOW,
  line: LINE,
  stays,
  wished: {},
  drawn: 500,
  ...more,
});

test("without a past the time allowed stands in for it, and it is said so", () => {
  const flow = lineFlow(ask(way("p", NOW - HOUR, 100), { wished: { p: NOW + 30 * DAY } }));
  expect(flow.seen).toEqual({ draft: 0, check: 0, live: 0 });
  expect(flow.likely).toMatchObject([{ id: "p", at: "draft", onTime: 1, publishAt: NOW + 30 * DAY }]);
  expect(flow.held).toBeNull();
});

test("nothing on the line is no trouble", () => {
  expect(lineFlow(ask([]))).toMatchObject({ measured: [], likely: [], jam: null, held: null });
});

test("a past is drawn from, the forecast of four weeks ago is held against it, and where most will wait is found", () => {
  const past = Array.from({ length: 60 }, (_, i) => way(`old ${i}`, NOW - (60 - i / 2) * DAY, 7, 7, 1)).flat();
  const now = Array.from({ length: 6 }, (_, i) => way(`new ${i}`, NOW - 5 * DAY - i * HOUR, 90)).flat();
  const flow = lineFlow(ask([...past, ...now]));
  expect(flow.seen).toMatchObject({ draft: 60, check: 60 });
  expect(flow.held).toEqual({ of: expect.any(Number), within: expect.any(Number) });
  expect(flow.held?.within).toBeGreaterThan((flow.held?.of ?? 0) / 2);
  expect(flow.jam).toMatchObject({ state: "check", holds: 6 });
  expect(flow.jam?.at).toBeGreaterThan(NOW);
});

test("thousands of pieces at one stop are foreseen in fewer runs; of them so many are said as are asked for", () => {
  const stays = Array.from({ length: 4_000 }, (_, i) => way(`p${i}`, NOW - (i % 900) * HOUR, 1_000)).flat();
  const flow = lineFlow(ask(stays, { drawn: 20, wished: { p7: NOW + HOUR, p8: NOW + 90 * DAY } }));
  expect(flow.likely).toHaveLength(20);
  expect(flow.likely[0]?.id).toBe("p7");
  expect(flow.there.draft).toEqual({ all: 4_000, over: expect.any(Number) });
  expect(flow.there.draft?.over).toBeGreaterThan(3_000);
  expect(flow.dated).toEqual({ all: 2, late: 1 });
});

test("a draft left for two years, and a stop that is gone, are measured and break nothing", () => {
  const stays: Stay[] = [
    { piece: "old", state: "draft", arrivedAt: NOW - 730 * DAY },
    { piece: "gone", state: "fact-check", arrivedAt: NOW - 9 * DAY, leftAt: NOW - 2 * DAY },
  ];
  const flow = lineFlow(ask(stays));
  expect(flow.measured.map((one) => one.state)).toEqual(["draft", "fact-check"]);
  expect(flow.likely).toHaveLength(1);
});

test("a calendar that never opens is refused in a sentence", () => {
  const shut = { ...ROME, week: { mon: [] } };
  expect(() => lineFlow(ask(way("p", NOW - HOUR, 100), { calendar: shut }))).toThrow(/too little open time/);
});

test("a way falls when a piece moves on, rises when it comes back, ends at the last stop and begins anew from there", () => {
  const at = (days: number) => NOW + days * DAY;
  const stays: Stay[] = [
    { piece: "p", state: "draft", arrivedAt: at(0), leftAt: at(2) },
    { piece: "p", state: "check", arrivedAt: at(2), leftAt: at(3) },
    { piece: "p", state: "draft", arrivedAt: at(3), leftAt: at(4) },
    { piece: "p", state: "live", arrivedAt: at(4), leftAt: at(8) },
    { piece: "p", state: "draft", arrivedAt: at(8) },
    { piece: "q", state: "draft", arrivedAt: at(1), leftAt: at(9) },
  ];
  const { rows, ways } = waysOf(["draft", "check", "live"], stays, at(10));
  expect(rows).toEqual([2, 1, 1]);
  expect(ways.map((one) => [one.piece, one.corners.map(({ stop }) => stop)])).toEqual([
    ["p", [0, 0, 1, 1, 0, 0, 2, 2]],
    ["q", [0, 0]],
    ["p", [0, 0]],
  ]);
  expect(ways[2]?.corners.at(-1)?.at).toBe(at(10));
});

test("law: two pieces at one stop at one time are never in one row, while there are rows enough", () => {
  const stay = fc.record({
    state: fc.constantFrom("draft", "check"),
    from: fc.integer({ min: 0, max: 60 }),
    days: fc.integer({ min: 1, max: 9 }),
  });
  fc.assert(
    fc.property(fc.array(stay, { maxLength: 12 }), (some) => {
      const stays = some.map(
        ({ state, from, days }, i): Stay => ({
          piece: `p${i}`,
          state,
          arrivedAt: NOW + from * DAY,
          leftAt: NOW + (from + days) * DAY,
        }),
      );
      const spans = waysOf(["draft", "check", "live"], stays, NOW + 99 * DAY).ways.map(({ corners: [a, b] }) => ({
        stop: a?.stop,
        row: a?.row,
        from: a?.at ?? 0,
        until: b?.at ?? 0,
      }));
      for (const [i, one] of spans.entries())
        for (const other of spans.slice(i + 1))
          if (one.stop === other.stop && one.row === other.row)
            expect(one.until <= other.from || other.until <= one.from).toBe(true);
    }),
  );
});
