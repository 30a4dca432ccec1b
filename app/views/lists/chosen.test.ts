import { sizeOf, toggled } from "./chosen.ts";

const shown = ["a", "b", "c", "d", "e"];

test.each<[string, string[], string | null, string, boolean, string[]]>([
  ["one is chosen", [], null, "b", false, ["b"]],
  ["one chosen before is let go", ["a", "b"], "b", "a", false, ["b"]],
  ["from the last one through this one", ["b"], "b", "d", true, ["b", "c", "d"]],
  ["the same upwards", ["d"], "d", "b", true, ["d", "b", "c"]],
  ["a chosen end lets the run go", ["b", "c", "d"], "b", "d", true, []],
  ["without a last one shown it is one alone", ["z"], "z", "c", true, ["z", "c"]],
])("%s", (_, ids, last, id, through, after) => {
  expect(toggled(new Set(ids), shown, last, id, through)).toEqual(after);
});

test("all that a list is narrowed to is as many as it says", () => {
  expect([sizeOf({ ids: ["a", "b"] }), sizeOf({ all: "?kind=x", total: 312 })]).toEqual([2, 312]);
});
