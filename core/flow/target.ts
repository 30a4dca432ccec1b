import { localDate } from "../time/local.ts";

/** How a target stands: of so many wanted so many are done, in so much of its time. */
export interface Standing {
  wanted: number;
  done: number;
  /** How many more are likely to arrive within. */
  coming: number;
  /** The share of its time that is gone, from nothing to one. */
  gone: number;
}

/** What a target comes to: reached, missed, likely reached, at risk, or not begun. */
export type Outcome = "reached" | "missed" | "likely" | "at risk" | "ahead";

/**
 * What a target comes to. It is at risk where what is done and what is likely together fall short once its time has
 * begun; before that it lies ahead.
 */
export function outcomeOf({ wanted, done, coming, gone }: Standing): Outcome {
  if (done >= wanted) return "reached";
  if (gone >= 1) return "missed";
  if (gone <= 0) return "ahead";
  return done + coming >= wanted ? "likely" : "at risk";
}

/** No local day is longer than this, in milliseconds: one on which clocks go back. */
const LONGEST_DAY = 25 * 3_600_000;

/** Whether an instant is in time for another: on its local day, or before. Only near it the day is looked up. */
export const isInTime = (at: number, wished: number, zone: string): boolean =>
  at <= wished || (at - wished < LONGEST_DAY && localDate(at, zone) === localDate(wished, zone));

/** What became of a date: whether it was kept, null while that is open; and whether it likely will be. */
export interface Kept {
  inTime: boolean | null;
  isLikely: boolean;
}

/**
 * What became of a piece's date.
 *
 * @param wished for when it is, or was as it first left; epoch milliseconds, like the others
 * @param left when readers first had it; null while they have not
 * @param readyAt when it is likely to be ready; null where that is not foreseen. What is ready by its date leaves on it.
 */
export function keptBy(
  { wished, left, readyAt }: { wished: number; left: number | null; readyAt: number | null },
  now: number,
  zone: string,
): Kept {
  const open = left === null && isInTime(now, wished, zone);
  return {
    inTime: open ? null : left !== null && isInTime(left, wished, zone),
    isLikely: readyAt !== null && readyAt <= wished,
  };
}

/**
 * How a share in time stands: of those with a date in its period so many are wanted, so many were in time, so many
 * likely will be.
 *
 * @param share of a hundred
 * @param gone the share of its time that is gone; once all is, nothing more is coming
 */
export function shareStanding(dated: readonly Kept[], share: number, gone: number): Standing & { outcome: Outcome } {
  const standing = {
    wanted: Math.ceil((share * dated.length) / 100),
    done: dated.filter((one) => one.inTime === true).length,
    coming: gone < 1 ? dated.filter((one) => one.inTime === null && one.isLikely).length : 0,
    gone,
  };
  // Where nothing has its date in it, nothing is reached and nothing missed.
  return { ...standing, outcome: dated.length === 0 ? "ahead" : outcomeOf(standing) };
}

/** The share of a span that is gone, from nothing to one; instants in epoch milliseconds. */
export const shareGone = (from: number, until: number, now: number): number =>
  Math.min(1, Math.max(0, (now - from) / Math.max(1, until - from)));
