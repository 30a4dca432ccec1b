import fc from "fast-check";
import { calendarSchema } from "../time/calendar-format.ts";
import { type Ended, type HelpQuestion, helpFor, passagesOf, workOf } from "./help.ts";
import type { Stay } from "./measure.ts";

const [HOUR, DAY] = [3_600_000, 86_400_000];
const ALWAYS = calendarSchema.parse({
  timeZone: "UTC",
  week: Object.fromEntries(["mon", "tue", "wed", "thu", "fri", "sat", "sun"].map((day) => [day, [["00:00", "24:00"]]])),
});
const NOW = Date.parse("2026-11-24T08:00Z");
const LINE = [
  { key: "draft", take: "2wd" },
  { key: "check", take: "1wd" },
  { key: "live", take: null },
];

/** Ten that passed a check one after another, a day each; and so many that wait there. */
const oneByOne = (waiting: number): Stay[] => [
  ...Array.from({ length: 10 }, (_, i) => ({
    piece: `past ${i}`,
    state: "check",
    arrivedAt: NOW - 20 * DAY,
    leftAt: NOW - (19 - i) * DAY,
  })),
  ...Array.from({ length: waiting }, (_, i) => ({
    piece: `there ${i}`,
    state: "check",
    arrivedAt: NOW - (waiting - i) * HOUR,
  })),
];
const ask = (stays: Stay[], more: Partial<HelpQuestion> = {}): HelpQuestion => ({
  calendar: ALWAYS,
  now: NOW,
  from: NOW,
  until: NOW,
  line: LINE,
  stays,
  wished: {},
  drawn: 0,
  among: ["draft", "check"],
  places: { check: 1 },
  spread: {},
  caught: {},
  ...more,
});
const sooner = (question: HelpQuestion) =>
  Object.fromEntries(helpFor(question)?.ways.map((one) => [one.ease, one.sooner]) ?? []);

test.each<[string, number, number[]]>([
  ["one at a time, each took a day and not its place in the queue", 1, Array(10).fill(24 * 60)],
  [
    "as many at once as there were, each took all it was there",
    10,
    [1, 2, 3, 4, 5, 6, 7, 8, 9, 10].map((n) => n * 1_440),
  ],
])("work is told from waiting: %s", (_, places, minutes) => {
  expect(workOf(ALWAYS, oneByOne(0), "check", places, NOW)).toEqual(minutes);
});

test("of a stop nothing has left nothing is known", () => {
  expect(workOf(ALWAYS, oneByOne(2), "draft", 1, NOW)).toBeNull();
});

test("where one works through four, a second brings them sooner, and some of them in time", () => {
  const wished = { "there 3": NOW + 3 * DAY };
  const help = helpFor(ask(oneByOne(4), { wished }));
  expect(help).toMatchObject({ stop: "check", waiting: 4, places: 1 });
  expect(help?.ways.map((one) => [one.ease, one.wasLate, one.late])).toEqual([
    ["place", 1, 0],
    ["order", 1, 0],
  ]);
  expect(sooner(ask(oneByOne(4), { wished })).place).toBe(1_410);
});

test("the nearest date first brings nobody in time where nobody has a date", () => {
  expect(Object.keys(sooner(ask(oneByOne(4))))).toEqual(["place"]);
});

test("what others may take is handed on where more would be at it then", () => {
  expect(sooner(ask(oneByOne(4), { spread: { check: 2 } })).spread).toBe(1_410);
  expect(sooner(ask(oneByOne(4), { spread: { check: 1 } })).spread).toBeUndefined();
});

test("where nothing waits nothing helps, and where as many work as wait one more does not", () => {
  expect(helpFor(ask(oneByOne(0)))).toBeNull();
  expect(helpFor(ask(oneByOne(2), { places: { check: 2 } }))?.ways).toEqual([]);
});

/** A piece that came to the check, went back after two hours, was there again after a day, and passed after two more hours. */
const thereAndBack = (piece: string, came: number): Stay[] => [
  { piece, state: "check", arrivedAt: came, leftAt: came + 2 * HOUR, back: true },
  { piece, state: "draft", arrivedAt: came + 2 * HOUR, leftAt: came + DAY },
  { piece, state: "check", arrivedAt: came + DAY, leftAt: came + DAY + 2 * HOUR },
];
const START = NOW - 20 * DAY;

test.each<[string, Stay[], Ended[], { took: number; spared: number }[]]>([
  [
    "what passed at once",
    [{ piece: "a", state: "check", arrivedAt: START, leftAt: START + HOUR }],
    [],
    [{ took: 60, spared: 0 }],
  ],
  ["what came back and was there again", thereAndBack("a", START), [], [{ took: 26 * 60, spared: 0 }]],
  [
    "the same, where its return would have been caught",
    thereAndBack("a", START),
    [{ piece: "a", leftAt: START + 2 * HOUR }],
    [{ took: 26 * 60, spared: 24 * 60 }],
  ],
  [
    "what came back twice, of which one would have been caught",
    [...thereAndBack("a", START), ...thereAndBack("a", START + 2 * DAY)].map((one, i) =>
      i === 2 ? { ...one, back: true } : one,
    ),
    [{ piece: "a", leftAt: START + DAY + 2 * HOUR }],
    [{ took: 74 * 60, spared: 24 * 60 }],
  ],
  [
    "what came back and is not there again",
    thereAndBack("a", START).slice(0, 2),
    [{ piece: "a", leftAt: START + 2 * HOUR }],
    [],
  ],
  ["what is there", [{ piece: "a", state: "check", arrivedAt: START }], [], []],
  ["what will leave later than now", [{ piece: "a", state: "check", arrivedAt: START, leftAt: NOW + HOUR }], [], []],
])("until it had passed for good: %s", (_, stays, caught, rows) => {
  expect(passagesOf(ALWAYS, stays, "check", NOW, caught)).toEqual(rows);
});

test("where half came back with remarks open, asking that they are settled brings what comes sooner, and one in time", () => {
  const pieces = Array.from({ length: 10 }, (_, i) => `past ${i}`);
  const stays = [
    ...pieces.flatMap((piece, i) =>
      i < 6
        ? thereAndBack(piece, START + i * HOUR)
        : [{ piece, state: "check", arrivedAt: START, leftAt: START + 2 * HOUR }],
    ),
    ...["there 0", "there 1"].map((piece) => ({ piece, state: "check", arrivedAt: NOW - HOUR })),
  ];
  const caught = { check: pieces.slice(0, 6).map((piece, i) => ({ piece, leftAt: START + i * HOUR + 2 * HOUR })) };
  const asked = { places: { check: 2 }, wished: { "there 0": NOW + 12 * HOUR }, caught };
  const [settled] = helpFor(ask(stays, asked))?.ways.filter((one) => one.ease === "settled") ?? [];
  expect(settled).toMatchObject({ ease: "settled", sooner: 24 * 60, wasLate: 1, late: 0 });
  expect(sooner(ask(stays, { ...asked, caught: {} })).settled).toBeUndefined();
  // From fewer that passed nothing is said.
  const few = stays.filter(({ piece }) => !["past 7", "past 8", "past 9"].includes(piece));
  expect(sooner(ask(few, asked)).settled).toBeUndefined();
});

test("one more at work makes nobody later on the whole", () => {
  const stay = fc.record({
    piece: fc.uuid(),
    state: fc.constantFrom("draft", "check"),
    arrivedAt: fc.integer({ min: NOW - 60 * DAY, max: NOW - 1 }),
    took: fc.option(fc.integer({ min: 0, max: 20 * DAY }), { nil: undefined }),
  });
  const stays = fc.uniqueArray(stay, { selector: (one) => one.piece, maxLength: 30 });
  fc.assert(
    fc.property(stays, fc.integer({ min: 1, max: 4 }), (made, places) => {
      const all = made.map(({ took, ...one }): Stay => {
        const leftAt = took === undefined ? undefined : one.arrivedAt + took;
        return leftAt === undefined || leftAt > NOW ? one : { ...one, leftAt };
      });
      for (const way of helpFor(ask(all, { places: { draft: places, check: places } }))?.ways ?? [])
        if (way.ease !== "order") expect(way.sooner).toBeGreaterThanOrEqual(0);
    }),
    { numRuns: 40 },
  );
});
