import type { Calendar } from "../time/calendar.ts";
import { meterOf } from "../time/meter.ts";
import type { Stay } from "./measure.ts";
import { toThree } from "./rank.ts";

const WEEK = 7 * 86_400_000;

/** What a line let go, held and sent back in a week. */
export interface Week {
  /** Epoch milliseconds; `until` exclusive. */
  from: number;
  until: number;
  /** How many came to the last stop. */
  arrived: number;
  /** How many went back to an earlier stop. */
  returned: number;
  /** How many were on their way on average, over open time. */
  waiting: number;
}

/**
 * A line's weeks, the first first: seven days each, the last of them up to the end of the period.
 *
 * @param line the keys of its stops, in order
 * @param period epoch milliseconds; what of it is no whole week is left out at its beginning
 */
export function weeksOf(
  calendar: Calendar,
  line: readonly string[],
  { from, until }: { from: number; until: number },
  stays: readonly Stay[],
): Week[] {
  const count = Math.floor((until - from) / WEEK);
  const begins = until - count * WEEK;
  const last = line.at(-1);
  const on = new Set(line.slice(0, -1));
  const meter = meterOf(
    calendar,
    stays.reduce((first, one) => Math.min(first, one.arrivedAt), begins),
  );
  const bounds = Array.from({ length: count + 1 }, (_, i) => meter.at(begins + i * WEEK));
  const weeks = Array.from({ length: count }, (_, i) => ({
    arrived: 0,
    returned: 0,
    stood: 0,
    from: begins + i * WEEK,
  }));
  const at = (instant: number) => Math.floor((instant - begins) / WEEK);
  for (const { state, arrivedAt, leftAt = Number.POSITIVE_INFINITY, back } of stays) {
    const came = weeks[at(arrivedAt)];
    if (state === last && came) came.arrived += 1;
    if (!on.has(state) || arrivedAt >= until || leftAt < begins) continue;
    const left = Number.isFinite(leftAt) ? weeks[at(leftAt)] : undefined;
    if (back && left) left.returned += 1;
    const [start, end] = [meter.at(arrivedAt), meter.at(Math.min(leftAt, until))];
    for (let i = Math.max(0, at(arrivedAt)); i < count && (bounds[i] as number) < end; i++) {
      const within = Math.min(end, bounds[i + 1] as number) - Math.max(start, bounds[i] as number);
      (weeks[i] as { stood: number }).stood += Math.max(0, within);
    }
  }
  return weeks.map(({ stood, ...week }, i) => {
    const open = (bounds[i + 1] as number) - (bounds[i] as number);
    return { ...week, until: week.from + WEEK, waiting: open === 0 ? 0 : toThree(stood / open) };
  });
}
