import type { Calendar } from "./calendar.ts";
import { arriveBy, due } from "./due.ts";

/** One stop still ahead: how long work there may take, or nothing where it is only passed. */
export interface Leg {
  key: string;
  take: string | null;
}

/** When a stop must be reached for the publish date to hold, and when it will be by the present pace. Epoch milliseconds. */
export interface Planned {
  key: string;
  reachBy: number | null;
  expected: number;
}

/**
 * Plans the stops ahead of a piece, backwards from its publish date and forwards from now.
 *
 * @param legs the present stop first, the last stop of the line at the end
 * @param leaves when the present stop will be left at the earliest, epoch milliseconds
 * @param publishAt the date wished for, or null
 * @returns a plan for every leg after the first
 */
export function plan(calendar: Calendar, legs: readonly Leg[], leaves: number, publishAt: number | null): Planned[] {
  const reachBy = new Map<string, number>();
  let latest = publishAt;
  for (const leg of legs.slice(1).toReversed()) {
    if (latest === null) break;
    latest = leg.take ? arriveBy(calendar, latest, leg.take) : latest;
    reachBy.set(leg.key, latest);
  }
  let expected = leaves;
  return legs.slice(1).map((leg) => {
    const arrives = expected;
    if (leg.take) expected = due(calendar, expected, leg.take);
    return { key: leg.key, reachBy: reachBy.get(leg.key) ?? null, expected: arrives };
  });
}
