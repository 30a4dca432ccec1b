import { type Calendar, dayAt, dayOf } from "./calendar.ts";

/** Days from the epoch, a Thursday, to the Monday after it. */
const FIRST_MONDAY = 4;
/** A week without a working day is skipped; so many at most. */
const WEEKS = 60;

/**
 * When work first begins in a week after an instant's: on its first day that is open, when that opens.
 *
 * @param after epoch milliseconds
 * @throws RangeError where nothing is open in more than a year
 */
export function nextWeekBegins(calendar: Calendar, after: number): number {
  const { number } = dayOf(calendar, after);
  const monday = number - ((((number - FIRST_MONDAY) % 7) + 7) % 7);
  for (let day = monday + 7; day < monday + 7 * WEEKS; day++) {
    const [first] = dayAt(calendar, day).open;
    if (first) return first.start;
  }
  throw new RangeError("nothing is open in more than a year");
}
