import { type Calendar, type Day, dayAt, dayOf } from "./calendar.ts";

/** So far from its beginning a meter reaches, in days: some forty years. */
export const METER_DAYS = 14_610;

/**
 * Open time as a length along one line, so that stretches of it are added and compared as numbers: what the hands of
 * a clock show that stands still while the calendar is closed.
 */
export interface Meter {
  /** Open milliseconds from the meter's beginning to an instant; zero before it. */
  at(instant: number): number;
  /** The first instant by which so many open milliseconds have passed since the meter's beginning. */
  instantOf(open: number): number;
}

/**
 * A meter of a calendar's open time. Days are looked at as far as they are asked for, each once.
 *
 * @param from epoch milliseconds, where it begins
 * @throws RangeError (from what it returns) beyond {@link METER_DAYS}, as where a calendar never opens
 */
export function meterOf(calendar: Calendar, from: number): Meter {
  const first = dayOf(calendar, from);
  /** The days from the first on, and the open time before each of them. */
  const days: Day[] = [];
  const before: number[] = [0];
  const openIn = (day: Day, until: number) => {
    let open = 0;
    for (const span of day.open) open += Math.max(0, Math.min(span.end, until) - Math.max(span.start, from));
    return open;
  };
  const reach = (index: number): Day => {
    if (index >= METER_DAYS) throw new RangeError("the calendar has too little open time within forty years");
    while (days.length <= index) {
      const day = dayAt(calendar, first.number + days.length);
      days.push(day);
      before.push((before.at(-1) ?? 0) + openIn(day, day.end));
    }
    return days[index] as Day;
  };
  /** The place of the last of the days looked at for which something holds; it holds up to there. */
  const last = (holds: (index: number) => boolean): number => {
    let [low, high] = [0, days.length];
    while (high - low > 1) {
      const middle = (low + high) >> 1;
      if (holds(middle)) low = middle;
      else high = middle;
    }
    return low;
  };
  return {
    at(instant) {
      if (instant <= from) return 0;
      while (days.length === 0 || (days.at(-1)?.end ?? 0) < instant) reach(days.length);
      const index = last((i) => (days[i]?.start ?? 0) <= instant);
      return (before[index] ?? 0) + openIn(days[index] as Day, instant);
    },
    instantOf(open) {
      if (open <= 0) return from;
      while ((before.at(-1) ?? 0) < open) reach(days.length);
      const index = last((i) => (before[i] ?? 0) < open);
      let left = open - (before[index] ?? 0);
      for (const span of (days[index] as Day).open) {
        const start = Math.max(span.start, from);
        if (start >= span.end) continue;
        if (left <= span.end - start) return start + left;
        left -= span.end - start;
      }
      throw new RangeError("a meter lost count");
    },
  };
}
