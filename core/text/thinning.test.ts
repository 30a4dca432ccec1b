import fc from "fast-check";
import { type PastVersion, THINNED_AFTER, thinnedOut } from "./thinning.ts";

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
const ZONE = "Europe/Rome";
/** Midnight in Rome. */
const START = Date.parse("2026-03-01T23:00Z");
const at = (hours: number, more: Partial<PastVersion> = {}): Omit<PastVersion, "id" | "number"> => ({
  authorId: "noor",
  at: START + hours * HOUR,
  reliedOn: false,
  ...more,
});
const numbered = (all: Omit<PastVersion, "id" | "number">[]): PastVersion[] =>
  all.map((one, i) => ({ ...one, id: `v${i + 1}`, number: i + 1 }));
const gone = (all: Omit<PastVersion, "id" | "number">[], handovers: number[] = [], before = START + 60 * DAY) =>
  thinnedOut(numbered(all), handovers, before, ZONE).map((one) => one.number);

test.each<[string, Omit<PastVersion, "id" | "number">[], number[], number[]]>([
  ["of a day its end remains", [at(9), at(11), at(15)], [], [1, 2]],
  ["a day ends at the publication's midnight", [at(22), at(23.5), at(24.5), at(26)], [], [1, 3]],
  ["each writer's day has its own end", [at(9), at(10, { authorId: "wim" }), at(11)], [], [1]],
  ["what somebody relies on stays", [at(9, { reliedOn: true }), at(11), at(15)], [], [2]],
  ["what was sent stays, whenever it was written on afterwards", [at(9), at(11), at(15)], [START + 10 * HOUR], [2]],
  ["the newest stays", [at(9)], [], []],
])("%s", (_, all, handovers, expected) => {
  expect(gone(all, handovers)).toEqual(expected);
});

test("what is not old enough stays", () => {
  expect(gone([at(9), at(11), at(15)], [], START + 10 * HOUR)).toEqual([1]);
  expect(THINNED_AFTER).toBe(30 * DAY);
});

test("thinning again takes nothing more, and never the newest, a version relied on, or one that was sent", () => {
  const version = fc.record({
    hours: fc.integer({ min: 0, max: 200 }),
    authorId: fc.constantFrom("noor", "wim"),
    reliedOn: fc.boolean(),
  });
  const history = fc.tuple(
    fc.array(version, { maxLength: 30 }),
    fc.array(fc.integer({ min: 0, max: 210 }), { maxLength: 5 }),
    fc.integer({ min: 0, max: 220 }),
  );
  fc.assert(
    fc.property(history, ([all, sent, limit]) => {
      const versions = numbered(all.toSorted((a, b) => a.hours - b.hours).map(({ hours, ...more }) => at(hours, more)));
      const handovers = sent.map((hours) => START + hours * HOUR);
      const before = START + limit * HOUR;
      const out = thinnedOut(versions, handovers, before, ZONE);
      const left = versions.filter((one) => !out.includes(one));
      expect(thinnedOut(left, handovers, before, ZONE)).toEqual([]);
      expect(out.every((one) => !one.reliedOn && one.at < before)).toBe(true);
      expect(left.at(-1)).toEqual(versions.at(-1));
      for (const moment of handovers) {
        const newest = versions.findLast((one) => one.at <= moment);
        if (newest) expect(left).toContain(newest);
      }
    }),
  );
});
