import { z } from "zod";
import { WEEKDAYS } from "../time/calendar.ts";
import { dayAfter, fromLocalInput, localDate, mondayOf } from "../time/local.ts";
import { list } from "../words/say.ts";

const clock = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, "expected a time such as 07:00");
/** A local date in the first week or month that counts, from which every second or third is counted. */
const since = z.iso.date("expected a date such as 2026-12-03");

/** When editions of a channel leave: on days of every so many weeks, or on a day of every so many months. */
export const rhythmSchema = z.discriminatedUnion("every", [
  z.strictObject({
    every: z.literal("week"),
    days: z.array(z.enum(WEEKDAYS)).min(1, "choose a day").max(7),
    at: clock,
    apart: z.int().min(1).max(12).default(1),
    since,
  }),
  z.strictObject({
    every: z.literal("month"),
    /** In a month without such a day its last one. */
    day: z.int().min(1).max(31),
    at: clock,
    apart: z.int().min(1).max(12).default(1),
    since,
  }),
]);
export type Rhythm = z.infer<typeof rhythmSchema>;

/** A rhythm in words: *every Thursday, 07:00*. */
export function sayRhythm(rhythm: Rhythm): string {
  const { every, apart, at } = rhythm;
  if (every === "month") {
    const often = apart === 1 ? "every month" : `every ${apart} months`;
    return `${often} on day ${rhythm.day}, ${at}`;
  }
  const days = list(WEEKDAYS.filter((day) => rhythm.days.includes(day)).map((day) => DAY_NAMES[day]));
  return `${apart === 1 ? `every ${days}` : `every ${apart} weeks on ${days}`}, ${at}`;
}

const DAY_NAMES: Record<(typeof WEEKDAYS)[number], string> = {
  mon: "Monday",
  tue: "Tuesday",
  wed: "Wednesday",
  thu: "Thursday",
  fri: "Friday",
  sat: "Saturday",
  sun: "Sunday",
};

/** So many dates are asked for at once at most. */
const MOST = 400;

/**
 * The next instants of a rhythm. A time a change of the clock skips is taken when it would have been, a doubled
 * one is the earlier.
 *
 * @param zone the publication's
 * @param after epoch milliseconds; a date at that very instant does not count
 * @param count how many, at most {@link MOST}
 * @returns epoch milliseconds, rising
 */
export function datesOf(rhythm: Rhythm, zone: string, after: number, count: number): number[] {
  const wanted = Math.min(count, MOST);
  const found: number[] = [];
  for (const day of daysOf(rhythm, localDate(after, zone))) {
    const at = fromLocalInput(`${day}T${rhythm.at}`, zone);
    if (at !== null && at > after) found.push(at);
    if (found.length >= wanted) break;
  }
  return found;
}

/** The local dates of a rhythm from a day on, without an end. */
function* daysOf(rhythm: Rhythm, from: string): Generator<string> {
  const start = from > rhythm.since ? from : rhythm.since;
  if (rhythm.every === "week") {
    const first = mondayOf(rhythm.since);
    const weeks = Math.floor((Date.parse(mondayOf(start)) - Date.parse(first)) / WEEK);
    for (let week = Math.floor(weeks / rhythm.apart) * rhythm.apart; ; week += rhythm.apart)
      for (const [i, name] of WEEKDAYS.entries()) {
        const day = dayAfter(first, week * 7 + i);
        if (rhythm.days.includes(name) && day >= start) yield day;
      }
  }
  const months = monthOf(start) - monthOf(rhythm.since);
  for (let month = Math.floor(months / rhythm.apart) * rhythm.apart; ; month += rhythm.apart) {
    const day = dayIn(monthOf(rhythm.since) + month, rhythm.day);
    if (day >= start) yield day;
  }
}

const WEEK = 7 * 86_400_000;
/** Months since the year 0. */
const monthOf = (day: string) => Number(day.slice(0, 4)) * 12 + Number(day.slice(5, 7)) - 1;

const written = (month: number) =>
  `${String(Math.floor(month / 12)).padStart(4, "0")}-${String((month % 12) + 1).padStart(2, "0")}`;

/** The day of a month, or its last one where it has no such day. */
function dayIn(month: number, day: number): string {
  const length = Number(dayAfter(`${written(month + 1)}-01`, -1).slice(8));
  return `${written(month)}-${String(Math.min(day, length)).padStart(2, "0")}`;
}
