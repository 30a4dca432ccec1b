import type { Calendar } from "./calendar.ts";
import { arriveBy, due } from "./due.ts";

/** One stop still ahead: how long work there may take, or nothing where it is only passed. */
export interface Leg {
  key: string;
  take: string | null;
}

/** When a stop must be reached and left for the publish date to hold, and when it will be reached by the present pace. Epoch milliseconds. */
export interface Planned {
  key: string;
  reachBy: number | null;
  /** Null at the last stop, and where no date is wished for. */
  leaveBy: number | null;
  expected: number;
}

/**
 * Plans the way of a piece, backwards from its publish date and forwards from now.
 *
 * @param legs the present stop first, the last stop of the line at the end
 * @param here since when the piece is at the first stop, and when it leaves there at the earliest, epoch milliseconds
 * @param publishAt the date wished for, or null
 * @returns a plan for every leg
 * @throws RangeError where a calendar has too little working time for a leg
 */
export function plan(
  calendar: Calendar,
  legs: readonly Leg[],
  here: { since: number; leaves: number },
  publishAt: number | null,
): Planned[] {
  const last = legs.length - 1;
  const reachBy: (number | null)[] = legs.map(() => null);
  for (let i = last, latest = publishAt; i >= 0 && latest !== null; i--) {
    // At the last stop nothing is waited for: it is where readers are.
    const { take } = legs[i] as Leg;
    if (take && i < last) latest = arriveBy(calendar, latest, take);
    reachBy[i] = latest;
  }
  let leaves = here.leaves;
  return legs.map(({ key, take }, i) => {
    const expected = i === 0 ? here.since : leaves;
    if (i > 0 && take) leaves = due(calendar, expected, take);
    return { key, reachBy: reachBy[i] ?? null, leaveBy: reachBy[i + 1] ?? null, expected };
  });
}
