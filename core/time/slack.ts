import { counted } from "../words/say.ts";
import { type Calendar, WEEKDAYS } from "./calendar.ts";
import { openTime } from "./due.ts";
import { minutesOf } from "./hours.ts";

const [MINUTE, HOUR] = [60_000, 3_600_000];

/**
 * How much working time lies between when something is expected and when it is wished for.
 *
 * @param expected epoch milliseconds, as `wished` is
 * @returns open milliseconds; negative where it is expected too late
 */
export const slack = (calendar: Calendar, expected: number, wished: number): number =>
  openTime(calendar, expected, wished);

/** Slack in words: *2 working days to spare*, *3 working hours too late*. @param length open milliseconds, as {@link slack} says it */
export function saySlack(calendar: Calendar, length: number): string {
  const open = Math.abs(length);
  const ends = length < 0 ? "too late" : "to spare";
  const day = dayLength(calendar);
  // What is to spare is not made more than it is, what is late not less.
  const whole = (unit: number) => (length < 0 ? Math.ceil(open / unit) : Math.floor(open / unit));
  if (open < MINUTE) return "just in time";
  if (open >= day) return `${counted(whole(day), "working day")} ${ends}`;
  if (open >= HOUR) return `${counted(whole(HOUR), "working hour")} ${ends}`;
  return `${counted(whole(MINUTE), "minute")} ${ends}`;
}

/** Working time in days of a usual week's longest, to a tenth. @param length open milliseconds */
export const workingDays = (calendar: Calendar, length: number): number =>
  Math.round((10 * length) / dayLength(calendar)) / 10;

/** How long one works on the longest day of a usual week, in milliseconds. */
function dayLength({ week }: Calendar): number {
  const minutes = WEEKDAYS.map((name) =>
    (week[name] ?? []).reduce((sum, [from, until]) => sum + minutesOf(until) - minutesOf(from), 0),
  );
  return Math.max(...minutes) * MINUTE;
}
