import ICAL from "ical.js";
import { localDate } from "#core/time/local.ts";

export const CALENDAR_BYTES = 1_000_000;
const MOST = 400;
const DAY = 86_400_000;
const AHEAD = 400 * DAY;

/** A stretch of days in somebody's calendar; local dates, inclusive. */
export interface Stretch {
  from: string;
  until: string;
  summary: string;
  /** Whether it fills its days, so that it may well be an absence. */
  whole: boolean;
}

/**
 * Reads the stretches of days from an iCalendar file (RFC 5545) that lie ahead, recurring ones written
 * out, the earliest first. Events within one day are left out: nobody is away for an hour.
 *
 * @param now epoch milliseconds; what ended before is left out, and what begins more than 400 days later
 */
export function readCalendarFile(
  source: string,
  zone: string,
  now: number,
): { stretches: Stretch[] } | { problem: string } {
  try {
    const calendar = new ICAL.Component(ICAL.parse(source));
    if (calendar.name !== "vcalendar") return { problem: "This is no iCalendar file." };
    const events = calendar.getAllSubcomponents("vevent").slice(0, 5_000);
    const stretches = events
      .filter((event) => event.getFirstPropertyValue("status") !== "CANCELLED")
      .flatMap((event) => occurrences(new ICAL.Event(event), zone, now))
      .filter((one) => one.until >= localDate(now, zone))
      .sort((a, b) => a.from.localeCompare(b.from));
    return { stretches: stretches.slice(0, MOST) };
  } catch {
    return { problem: "This is no iCalendar file, or it is damaged." };
  }
}

function occurrences(event: ICAL.Event, zone: string, now: number): Stretch[] {
  const summary = (event.summary ?? "").slice(0, 120) || "without a name";
  const one = (start: ICAL.Time, end: ICAL.Time): Stretch[] => {
    const from = dateOf(start, zone);
    // An end is exclusive: of whole days the day before, of hours the last minute.
    const last = end.clone();
    if (end.compare(start) > 0) last.adjust(end.isDate ? -1 : 0, 0, end.isDate ? 0 : -1, 0);
    const until = dateOf(last, zone);
    if (!start.isDate && until === from) return [];
    return [{ from, until, summary, whole: start.isDate }];
  };
  if (!event.isRecurring()) return one(event.startDate, event.endDate);
  const found: Stretch[] = [];
  const iterator = event.iterator();
  for (let i = 0, next = iterator.next(); next && i < 2_000; i++, next = iterator.next()) {
    if (next.toJSDate().getTime() > now + AHEAD) break;
    const { startDate, endDate } = event.getOccurrenceDetails(next);
    found.push(...one(startDate, endDate));
  }
  return found;
}

/** The local date of a time in a file: its own where it names none or another zone, computed where it is in UTC. */
function dateOf(time: ICAL.Time, zone: string): string {
  if (time.zone === ICAL.Timezone.utcTimezone && !time.isDate) return localDate(time.toJSDate().getTime(), zone);
  return [String(time.year).padStart(4, "0"), time.month, time.day]
    .map((part) => String(part).padStart(2, "0"))
    .join("-");
}
