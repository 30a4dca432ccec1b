import fc from "fast-check";
import { stack } from "./stack.ts";

const cards = fc.array(
  fc.record({ wants: fc.integer({ min: 0, max: 3_000 }), height: fc.integer({ min: 20, max: 400 }) }),
  { maxLength: 30 },
);

test("cards never lie over one another, keep the order of their words, and none stands above the margin", () =>
  fc.assert(
    fc.property(cards, fc.nat(29), (made, chosen) => {
      const all = made.map((card, i) => ({ ...card, id: String(i) }));
      const { tops, end } = stack(all, String(chosen));
      const inOrder = all.toSorted((a, b) => a.wants - b.wants);
      let floor = 0;
      for (const { id, height } of inOrder) {
        expect(tops.get(id)).toBeGreaterThanOrEqual(floor);
        floor = (tops.get(id) ?? 0) + height;
      }
      expect(end).toBeGreaterThanOrEqual(floor);
    }),
  ));

test("the chosen card stands at its words where there is room above", () => {
  const all = [
    { id: "a", wants: 300, height: 100 },
    { id: "b", wants: 310, height: 100 },
    { id: "c", wants: 320, height: 100 },
  ];
  expect([...stack(all, "b").tops].toSorted()).toEqual([
    ["a", 202],
    ["b", 310],
    ["c", 418],
  ]);
  expect(stack(all, null).tops.get("a")).toBe(300);
});
