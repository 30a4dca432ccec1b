import { localDate } from "#core/time/local.ts";
import type { Mark } from "#server/schedule/mark.ts";

/** What is carried, and the day it is held over. */
export interface Carrying {
  marks: readonly Mark[];
  /** The local day of the first of them, and the one it is held over. */
  from: string;
  day: string;
  /** Whether it had no place yet: dropped on the very day it is wished for, it is planned. */
  fresh: boolean;
}

/** Marks as they are taken up, over their own day; null where there is none. */
export function takenUp(marks: readonly Mark[], zone: string, fresh: boolean): Carrying | null {
  const [first] = marks;
  if (!first) return null;
  const from = localDate(first.at, zone);
  return { marks, from, day: from, fresh };
}

/** The same over another day; the very value where it is over that day already. */
export const over = (carrying: Carrying | null, day: string): Carrying | null =>
  carrying === null || carrying.day === day ? carrying : { ...carrying, day };

/** Whether dropping it where it is does anything. */
export const moves = ({ fresh, day, from }: Carrying): boolean => fresh || day !== from;

/** So far a pointer goes before it carries, in pixels. */
const SLACK = 5;

/** Whether a pointer has gone far enough from where it was pressed to carry. */
export const carries = (pressed: { x: number; y: number }, now: { clientX: number; clientY: number }): boolean =>
  Math.hypot(now.clientX - pressed.x, now.clientY - pressed.y) >= SLACK;
