import { readFileSync } from "node:fs";
import fc from "fast-check";
import { type Bearer, type Burden, spread } from "./spread.ts";

interface Case {
  people: Bearer[];
  items: Burden[];
  expect: { over: number; moves: number };
}

const { cases } = JSON.parse(readFileSync(new URL("cases/spread.json", import.meta.url), "utf8")) as { cases: Case[] };

test.each(cases.map((one, i): [number, Case] => [i, one]))(
  "case %i of evening out",
  (_, { people, items, expect: wanted }) => {
    const { moves, over } = spread(people, items);
    expect({ over, moves: moves.length }).toEqual(wanted);
  },
);

const worlds = fc.integer({ min: 1, max: 5 }).chain((size) => {
  const key = fc.integer({ min: 0, max: size - 1 }).map((i) => `p${i}`);
  return fc.record({
    people: fc
      .array(fc.integer({ min: 0, max: 3 }), { minLength: size, maxLength: size })
      .map((limits) => limits.map((limit, i) => ({ key: `p${i}`, limit }))),
    items: fc
      .array(fc.record({ holder: key, able: fc.array(key, { maxLength: 3 }) }), { maxLength: 6 })
      .map((list) => list.map((one, i) => ({ id: `i${i}`, ...one }))),
  });
});

/** Every way to hand things out, tried: the least excess, then the fewest moves. */
function tried(people: readonly Bearer[], items: readonly Burden[]): { over: number; moves: number } {
  let best = { over: Number.POSITIVE_INFINITY, moves: 0 };
  const loads = new Map(people.map(({ key }) => [key, 0]));
  const go = (i: number, moves: number) => {
    const item = items[i];
    if (!item) {
      const over = people.reduce((sum, { key, limit }) => sum + Math.max(0, (loads.get(key) ?? 0) - limit), 0);
      if (over < best.over || (over === best.over && moves < best.moves)) best = { over, moves };
      return;
    }
    for (const to of new Set([item.holder, ...item.able])) {
      loads.set(to, (loads.get(to) ?? 0) + 1);
      go(i + 1, moves + Number(to !== item.holder));
      loads.set(to, (loads.get(to) ?? 0) - 1);
    }
  };
  go(0, 0);
  return best;
}

test("it is the least excess, then the fewest moves, and only to who may", () => {
  fc.assert(
    fc.property(worlds, ({ people, items }) => {
      const { moves, over } = spread(people, items);
      for (const { item, to } of moves) expect(items.find(({ id }) => id === item)?.able).toContain(to);
      expect({ over, moves: moves.length }).toEqual(tried(people, items));
    }),
    { numRuns: 400 },
  );
});

test("what somebody unknown has stays, and who is unknown gets nothing", () => {
  const people = [{ key: "a", limit: 0 }];
  expect(
    spread(people, [
      { id: "1", holder: "nobody", able: ["a"] },
      { id: "2", holder: "a", able: ["nobody"] },
    ]),
  ).toEqual({ moves: [], over: 1 });
});
