import type { Calendar } from "../time/calendar.ts";
import { due } from "../time/due.ts";
import { type Leg, plan } from "../time/plan.ts";
import { sayDate, sayInstant } from "../time/words.ts";

/** An edition ahead. Epoch milliseconds. */
export interface EditionAhead {
  name: string;
  closesAt: number;
  at: number;
}

/** When something asked for now can be out at the earliest, and in which edition. Epoch milliseconds. */
export interface Earliest {
  at: number;
  /** Where it leaves with one; null where it leaves on its own, or none is made yet that it would reach. */
  edition: EditionAhead | null;
  /** The edition of the day wished for that it would miss; null where there is none. */
  missed: EditionAhead | null;
  /** Whether the date wished for can be met; null without one. */
  met: boolean | null;
}

/**
 * When something asked for now can be out: after the time the form asks for, after the line it will travel, and
 * with the first edition that has not closed by then.
 *
 * @param lead the working time the form asks for; null for none
 * @param legs the line it would travel, its first stop first; empty where none is known
 * @param editions those ahead, the soonest first; empty where it leaves on its own
 * @param wished epoch milliseconds; null without a date
 */
export function earliest(
  { calendar, now }: { calendar: Calendar; now: number },
  lead: string | null,
  legs: readonly Leg[],
  editions: readonly EditionAhead[],
  wished: number | null,
): Earliest {
  const readyByLead = lead === null ? now : due(calendar, now, lead);
  const [first] = legs;
  const leaves = first?.take ? due(calendar, now, first.take) : now;
  const readyByLine = plan(calendar, legs, { since: now, leaves }, null).at(-1)?.expected ?? now;
  const ready = Math.max(readyByLead, readyByLine);
  const edition = editions.find((one) => one.closesAt >= ready && one.at >= ready) ?? null;
  const at = edition?.at ?? ready;
  const aimed = wished === null ? undefined : editions.findLast((one) => one.at <= wished);
  const missed = aimed && edition && aimed.at < edition.at ? aimed : null;
  return { at, edition, missed, met: wished === null ? null : wished >= at };
}

/** When something can be out, in a sentence for whoever asks for it. @param zone the zone its dates are said in */
export function sayEarliest({ at, edition, missed, met }: Earliest, zone: string, now: number): string {
  const day = (instant: number) => sayDate(instant, zone, now);
  if (met === false && missed) {
    const closes = missed.closesAt < now ? "has closed" : `closes ${sayInstant(missed.closesAt, zone, now)}`;
    return `The ${missed.name} of ${day(missed.at)} ${closes}; the earliest you can have is ${day(at)}.`;
  }
  if (met === false) return `That is too soon: the earliest you can have is ${day(at)}.`;
  const leaves = edition ? ` It goes with the ${edition.name} of ${day(edition.at)}, or a later one.` : "";
  return met ? `That can be met.${leaves}` : `The earliest you can have is ${day(at)}.${leaves}`;
}
