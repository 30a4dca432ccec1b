import { chainOf, originOf } from "./origin.ts";

test.each([
  [1, "urgent-to-safety"],
  [4_182_733, "a".repeat(200)],
])("what a rule of chain %i wrote is known by where it comes from", (chain, key) => {
  const origin = originOf(chain, key);
  expect(chainOf(origin)).toBe(chain);
  expect(origin.length).toBeLessThanOrEqual(80);
});

test.each(["127.0.0.1", "job releases", "rule", "rule x y", "rule 12", " rule 12 key", "a rule 12 key"])(
  "%j comes from no rule",
  (origin) => expect(chainOf(origin)).toBeNull(),
);
