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
