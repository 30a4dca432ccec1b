import type { Calendar } from "#core/time/calendar.ts";
import { nextWeekBegins } from "#core/time/week.ts";
import { tellWeek } from "../flow/letter.ts";
import { loadPlaces } from "../sections/places.ts";
import { actOf, type Job } from "./job.ts";

const WEEK = 7 * 86_400_000;

/** When the next letter of the week goes; a calendar in which nothing opens lets it go seven days on. */
export function nextLetter(calendar: Calendar, now: number): number {
  try {
    return nextWeekBegins(calendar, now);
  } catch (error) {
    if (error instanceof RangeError) return now + WEEK;
    throw error;
  }
}

/** The letter of the week, when work begins in the next one; what a clock jumped over is not made up for. */
export const letters: Job = {
  lease: 10 * 60_000,
  batch: 1,
  async run(worker, _, now) {
    await tellWeek(worker.db, actOf(worker, "letters", now));
    const { calendar } = await loadPlaces(worker.db);
    return nextLetter(calendar, now);
  },
};
