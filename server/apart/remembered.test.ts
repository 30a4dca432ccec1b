import { remembered } from "./remembered.ts";

const NOON = Date.UTC(2026, 10, 24, 12);
const MINUTE = 60_000;

test("the same question within a few minutes is computed once; another, or later, or one that failed, anew", async () => {
  let computed = 0;
  const ask = (question: unknown, at: number) => remembered(question, at, async () => ++computed);
  expect(await ask({ stays: [1, 2] }, NOON)).toBe(1);
  expect(await ask({ stays: [1, 2] }, NOON + 4 * MINUTE)).toBe(1);
  expect(await ask({ stays: [1, 3] }, NOON + 4 * MINUTE)).toBe(2);
  expect(await ask({ stays: [1, 2] }, NOON + 5 * MINUTE)).toBe(3);
  const fails = () => remembered("fails", NOON, () => Promise.reject(new Error("given up")));
  await expect(fails()).rejects.toThrow("given up");
  expect(await remembered("fails", NOON, async () => null)).toBeNull();
  expect(await remembered("fails", NOON, async () => 7)).toBeNull();
});
