import { missed } from "./aims.ts";

const row = (measured: string, ratio: number, aim: string) => ({ what: "a thing", measured, beside: "", ratio, aim });

test.each([
  ["", "12 ms", 9, []],
  ["≤ 3", "12 ms", 3, []],
  ["≤ 3", "12 ms", 3.01, ["≤ 3"]],
  ["≥ 20 and ≤ 30 ms", "1,250/s, p95 31 ms", 19, ["≥ 20", "≤ 30 ms"]],
  ["≥ 20 and ≤ 30 ms", "1,250/s, p95 30 ms", 20, []],
  ["≤ 2 s", "1,999 ms", 5, []],
  ["≤ 2 s", "2001 ms", 5, ["≤ 2 s"]],
  ["≤ 50 ms", "16 ms, longest 51 ms", 1, ["≤ 50 ms"]],
  ["≤ 10 KB", "0.31 KB", 0.1, []],
] as const)("an aim of %j for %s at %d", (aim, measured, ratio, misses) => {
  expect(missed(row(measured, ratio, aim))).toEqual(misses);
});

test.each([
  ["about linear", "12 ms"],
  ["≤ 3 KB", "12 ms"],
])("an aim of %s that says nothing of %s is a fault of the bench", (aim, measured) => {
  expect(() => missed(row(measured, 1, aim))).toThrow("a thing");
});
