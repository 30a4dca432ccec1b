import { Temporal } from "temporal-polyfill";

/** The local date of an instant, `2026-11-24`. @param at epoch milliseconds */
export function localDate(at: number, zone: string): string {
  return Temporal.Instant.fromEpochMilliseconds(at).toZonedDateTimeISO(zone).toPlainDate().toString();
}

/** An instant as a form's local date and time, `2026-11-26T17:30`. */
export function toLocalInput(at: number, zone: string): string {
  return Temporal.Instant.fromEpochMilliseconds(at)
    .toZonedDateTimeISO(zone)
    .toPlainDateTime()
    .toString({ smallestUnit: "minute" });
}

/**
 * A form's local date and time as an instant; a skipped hour moves forward, a doubled one takes the earlier.
 *
 * @returns epoch milliseconds, or null when the text is no date and time
 */
export function fromLocalInput(text: string, zone: string): number | null {
  try {
    return Temporal.PlainDateTime.from(text).toZonedDateTime(zone).epochMilliseconds;
  } catch {
    return null;
  }
}

/** The same wall time on another local day; one a change of the clock skips is taken when it would have been. @param day `2026-11-26` */
export function sameTimeOn(at: number, day: string, zone: string): number {
  const time = Temporal.Instant.fromEpochMilliseconds(at).toZonedDateTimeISO(zone).toPlainTime();
  return Temporal.PlainDate.from(day).toZonedDateTime({ timeZone: zone, plainTime: time }).epochMilliseconds;
}

/** The local day so many days after another. @param day `2026-11-26` */
export const dayAfter = (day: string, days: number): string => Temporal.PlainDate.from(day).add({ days }).toString();

/** The instant a local day begins. @param day `2026-11-26` */
export const startOf = (day: string, zone: string): number =>
  Temporal.PlainDate.from(day).toZonedDateTime({ timeZone: zone }).epochMilliseconds;

/** The Monday of the week a local day lies in. @param day `2026-11-26` */
export function mondayOf(day: string): string {
  const date = Temporal.PlainDate.from(day);
  return date.subtract({ days: date.dayOfWeek - 1 }).toString();
}

/** Local days on end, of which each instant's is found at once. */
export interface DaysOnEnd {
  readonly days: readonly string[];
  /** The instants they begin, and that at which the last one ends. Epoch milliseconds. */
  readonly starts: readonly number[];
  /** Whose day an instant lies in, by its place; -1 outside. */
  placeOf(at: number): number;
}

/** So many local days from one on. @param first `2026-11-26` */
export function daysOnEnd(first: string, count: number, zone: string): DaysOnEnd {
  const all = Array.from({ length: count + 1 }, (_, i) => dayAfter(first, i));
  const starts = all.map((day) => startOf(day, zone));
  return {
    days: all.slice(0, count),
    starts,
    placeOf(at) {
      const [from = 0] = starts;
      // A change of the clock makes a day an hour shorter or longer: the guess is off by one day at most.
      const guess = Math.min(count, Math.floor((at - from) / DAY));
      const place = at < (starts[guess] ?? 0) ? guess - 1 : at >= (starts[guess + 1] ?? Infinity) ? guess + 1 : guess;
      return at < from || place >= count ? -1 : place;
    },
  };
}

const DAY = 86_400_000;
