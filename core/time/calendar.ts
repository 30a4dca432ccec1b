import { Temporal } from "temporal-polyfill";
import type { z } from "zod";
import type { calendarSchema } from "./calendar-format.ts";

/** The days of the week, as a calendar names them. */
export const WEEKDAYS = ["mon", "tue", "wed", "thu", "fri", "sat", "sun"] as const;
const MINUTE = 60_000;
const DAY = 86_400_000;

/** A working calendar. */
export type Calendar = z.infer<typeof calendarSchema>;

/** A stretch of open time, epoch milliseconds, end exclusive. */
export interface Span {
  start: number;
  end: number;
}

/** One local day: where it begins and ends as instants, and its open stretches in order. */
export interface Day {
  /** Days since 1970-01-01, by the local date. */
  number: number;
  start: number;
  end: number;
  open: readonly Span[];
}

const days = new WeakMap<Calendar, Map<number, Day>>();

/**
 * The local day with this number. Days are computed once per calendar: a zone's rules do not
 * change while a program runs, and planning asks for the same weeks again and again.
 *
 * @param number days since 1970-01-01, by local date
 */
export function dayAt(calendar: Calendar, number: number): Day {
  let known = days.get(calendar);
  if (!known) {
    known = new Map();
    days.set(calendar, known);
  }
  let day = known.get(number);
  if (!day) {
    day = computeDay(calendar, number);
    known.set(number, day);
  }
  return day;
}

/** The local day an instant falls in. @param instant epoch milliseconds */
export function dayOf(calendar: Calendar, instant: number): Day {
  let day = dayAt(calendar, Math.floor(instant / DAY));
  while (instant < day.start) day = dayAt(calendar, day.number - 1);
  while (instant >= day.end) day = dayAt(calendar, day.number + 1);
  return day;
}

/**
 * A day's open stretches. A minute is open when its wall time lies in an opening, so the day is
 * cut where its offset changes and each cut is compared in its own wall time: the hour that is
 * skipped counts for nothing, the hour that comes twice counts twice.
 */
function computeDay(calendar: Calendar, number: number): Day {
  const date = Temporal.PlainDate.from("1970-01-01").add({ days: number });
  const zone = calendar.timeZone;
  const start = date.toZonedDateTime(zone).epochMilliseconds;
  const end = date.add({ days: 1 }).toZonedDateTime(zone).epochMilliseconds;
  const midnight = number * DAY;
  const open: Span[] = [];
  for (const segment of segments(zone, start, end)) {
    for (const [from, until] of openings(calendar, date)) {
      const opened = Math.max(segment.start, midnight + minutes(from) * MINUTE - segment.offset);
      const closed = Math.min(segment.end, midnight + minutes(until) * MINUTE - segment.offset);
      if (opened < closed) join(open, { start: opened, end: closed });
    }
  }
  return { number, start, end, open };
}

function openings(calendar: Calendar, date: Temporal.PlainDate) {
  const key = date.toString();
  if (calendar.closed.includes(key)) return [];
  const special = calendar.special.find((entry) => entry.date === key);
  const weekday = WEEKDAYS[date.dayOfWeek - 1] as (typeof WEEKDAYS)[number];
  const hours = special ? special.hours : (calendar.week[weekday] ?? []);
  return [...hours].sort(([a], [b]) => a.localeCompare(b));
}

/** Stretches of one offset within a day; `offset` in milliseconds east of UTC. */
function* segments(zone: string, start: number, end: number) {
  let cursor = Temporal.Instant.fromEpochMilliseconds(start).toZonedDateTimeISO(zone);
  while (cursor.epochMilliseconds < end) {
    const next = cursor.getTimeZoneTransition("next");
    const until = Math.min(next?.epochMilliseconds ?? end, end);
    yield { start: cursor.epochMilliseconds, end: until, offset: cursor.offsetNanoseconds / 1e6 };
    if (!next) return;
    cursor = next;
  }
}

/** Appends a span, joining it to the last where they touch or overlap. */
function join(open: Span[], span: Span) {
  const last = open.at(-1);
  if (last && span.start <= last.end) last.end = Math.max(last.end, span.end);
  else open.push(span);
}

function minutes(wall: string): number {
  return Number(wall.slice(0, 2)) * 60 + Number(wall.slice(3));
}

export function isZone(zone: string): boolean {
  try {
    Temporal.Now.zonedDateTimeISO(zone);
    return true;
  } catch {
    return false;
  }
}
