import type { Mark } from "#server/schedule/mark.ts";
import { carries, moves, over, takenUp } from "./carriage.ts";

/** 23:30 UTC is the next day in Rome. */
const marks = [{ at: Date.parse("2026-11-24T23:30Z") }, { at: Date.parse("2026-11-26T09:00Z") }] as unknown as Mark[];

test("what is taken up is over the first one's day, in the publication's zone; nothing is not taken up", () => {
  expect(takenUp(marks, "Europe/Rome", false)).toEqual({ marks, from: "2026-11-25", day: "2026-11-25", fresh: false });
  expect(takenUp(marks, "UTC", false)?.day).toBe("2026-11-24");
  expect(takenUp([], "UTC", true)).toBeNull();
});

test("over another day it keeps where it came from; over the same day it is the same value", () => {
  const taken = takenUp(marks, "UTC", false);
  const moved = over(taken, "2026-11-27");
  expect(moved).toMatchObject({ from: "2026-11-24", day: "2026-11-27" });
  expect(over(moved, "2026-11-27")).toBe(moved);
  expect(over(null, "2026-11-27")).toBeNull();
});

test.each([
  [false, "2026-11-24", false],
  [false, "2026-11-25", true],
  [true, "2026-11-24", true],
])("dropped (new: %s) over %s: does something: %s", (fresh, day, does) => {
  const carrying = over(takenUp(marks, "UTC", fresh), day);
  expect(carrying && moves(carrying)).toBe(does);
});

test("a pointer that trembles does not carry", () => {
  const pressed = { x: 10, y: 10 };
  expect(carries(pressed, { clientX: 13, clientY: 13 })).toBe(false);
  expect(carries(pressed, { clientX: 14, clientY: 13 })).toBe(true);
});
