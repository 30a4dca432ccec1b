import { Temporal } from "temporal-polyfill";
import { type Calendar, dayAt, dayOf } from "./calendar.ts";

/** So far a date is moved at most, in working days. */
export const SHIFT_MOST = 250;
const HORIZON = 3_700;

/**
 * An instant moved by working days, its local wall time kept: a Thursday at 16:00 by one is Friday at 16:00,
 * or Monday where Friday is closed. In a gap of a clock change it moves forward.
 *
 * @param at epoch milliseconds
 * @param by working days, whole; below zero is earlier
 * @returns epoch milliseconds
 * @throws RangeError where `by` is no whole number of at most {@link SHIFT_MOST}, or too few days are open
 */
export function shiftByDays(calendar: Calendar, at: number, by: number): number {
  if (!Number.isInteger(by) || Math.abs(by) > SHIFT_MOST) throw new RangeError(`${by} is no number of working days`);
  const zoned = Temporal.Instant.fromEpochMilliseconds(at).toZonedDateTimeISO(calendar.timeZone);
  const step = Math.sign(by);
  let { number } = dayOf(calendar, at);
  let days = 0;
  for (let left = Math.abs(by); left > 0; ) {
    number += step;
    days += step;
    if (Math.abs(days) > HORIZON) throw new RangeError("the calendar has too few open days");
    if (dayAt(calendar, number).open.length > 0) left -= 1;
  }
  return zoned.add({ days }).epochMilliseconds;
}
