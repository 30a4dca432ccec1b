import { Temporal } from "temporal-polyfill";
import type { How, TellingChoices } from "./choices.ts";

const DAYS = 400;

/** When and where somebody reads. */
export interface Reading {
  choices: Pick<TellingChoices, "digestAt" | "quiet">;
  zone: string;
  /** Local dates on which they are away, both ends included. */
  away: readonly { from: string; until: string }[];
}

/**
 * When a message to somebody goes: at once, or with the next of the daily ones; not in their quiet hours, nor on
 * a day they are away. A wall time a clock change skips is taken when it would have been.
 *
 * @param now epoch milliseconds, UTC
 * @returns epoch milliseconds
 */
export function leavesAt(how: Exclude<How, "never">, { choices, zone, away }: Reading, now: number): number {
  const { digestAt, quiet } = choices;
  let at = Temporal.Instant.fromEpochMilliseconds(now).toZonedDateTimeISO(zone);
  if (how === "digest") {
    const today = onDay(at.toPlainDate(), digestAt, zone);
    at =
      Temporal.ZonedDateTime.compare(today, at) > 0 ? today : onDay(at.toPlainDate().add({ days: 1 }), digestAt, zone);
  }
  for (let i = 0; i < DAYS; i++) {
    const date = at.toPlainDate().toString();
    const gone = away.find(({ from, until }) => from <= date && date <= until);
    if (gone) at = onDay(Temporal.PlainDate.from(gone.until).add({ days: 1 }), digestAt, zone);
    else if (how === "at-once" && quiet && isQuiet(at, quiet)) at = endOf(at, quiet, zone);
    else break;
  }
  return at.epochMilliseconds;
}

const onDay = (date: Temporal.PlainDate, time: string, zone: string) =>
  date.toZonedDateTime({ timeZone: zone, plainTime: Temporal.PlainTime.from(time) });

const clockOf = (at: Temporal.ZonedDateTime) => at.toPlainTime().toString({ smallestUnit: "minute" });

function isQuiet(at: Temporal.ZonedDateTime, { from, until }: { from: string; until: string }): boolean {
  const time = clockOf(at);
  return from <= until ? from <= time && time < until : time >= from || time < until;
}

/** The end of the quiet hours an instant lies in. */
function endOf(at: Temporal.ZonedDateTime, { from, until }: { from: string; until: string }, zone: string) {
  const tomorrow = from > until && clockOf(at) >= from;
  return onDay(at.toPlainDate().add({ days: tomorrow ? 1 : 0 }), until, zone);
}
