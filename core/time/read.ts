import { Temporal } from "temporal-polyfill";
import { type Calendar, dayAt, dayOf, WEEKDAYS } from "./calendar.ts";
import { due } from "./due.ts";
import { sayDate, sayTime } from "./words.ts";

/** What a date that somebody writes is understood by: the present, the zone it is meant in, the working days. */
export interface Reader {
  /** Epoch milliseconds. */
  now: number;
  /** The zone dates are written and shown in. */
  zone: string;
  calendar: Calendar;
  /** The time of day that is meant where none is said, `07:00`; left out, the close of the working day. */
  usual?: string | null | undefined;
}

/** A date, and the time of day where one was said. */
interface Read {
  date: Temporal.PlainDate;
  time: Temporal.PlainTime | null;
}

const MONTHS = ["jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"];
/** A day without a year that passed so long ago is meant for the next, in days. */
const PASSED = 90;
const LONGEST = 80;

/**
 * A date as people write it: `2026-11-26`, `26 Nov`, `Thu 26 Nov 2026`, `26.11.`, `today`, `tomorrow`, `thu`,
 * `in 3 days`, `in 2 weeks`, `in 3 wd` (working days). What `sayDay` says is read as the same day.
 *
 * @returns the date as ISO 8601, or null where it is none
 */
export function readDay(text: string, reader: Reader): string | null {
  const read = understand(text, reader);
  return read && read.time === null ? read.date.toString() : null;
}

/**
 * A date and time as people write them: any date with `17:30`, `9` or `9.15` behind it, a time of today alone,
 * `in 4 h`; without a time the usual one is meant, or the close of that working day, on a closed day noon.
 *
 * @returns local date and time as ISO 8601 to the minute, `2026-11-26T17:30`, or null where it is none
 */
export function readMoment(text: string, reader: Reader): string | null {
  const read = understand(text, reader);
  if (!read) return null;
  const time = read.time ?? (reader.usual ? Temporal.PlainTime.from(reader.usual) : closing(read.date, reader));
  return read.date.toPlainDateTime(time).toString({ smallestUnit: "minute" });
}

/** A date as a person says it, `Thu 26 Nov`. @param day ISO 8601 */
export function sayDay(day: string, { zone, now }: Reader): string {
  return sayDate(
    Temporal.PlainDate.from(day).toZonedDateTime({ timeZone: zone, plainTime: "12:00" }).epochMilliseconds,
    zone,
    now,
  );
}

/** A local date and time as a person says it, `Thu 26 Nov, 17:30`. @param moment ISO 8601 without a zone */
export function sayMoment(moment: string, { zone, now }: Reader): string {
  const at = Temporal.PlainDateTime.from(moment).toZonedDateTime(zone).epochMilliseconds;
  return `${sayDate(at, zone, now)}, ${sayTime(at, zone)}`;
}

/** Whether nobody works on a date. @param day ISO 8601 */
export function isClosed(day: string, { calendar }: Reader): boolean {
  return dayAt(calendar, numberOf(Temporal.PlainDate.from(day))).open.length === 0;
}

const numberOf = (date: Temporal.PlainDate) => Temporal.PlainDate.from("1970-01-01").until(date).days;

const nowIn = ({ now, zone }: Reader) => Temporal.Instant.fromEpochMilliseconds(now).toZonedDateTimeISO(zone);

function understand(text: string, reader: Reader): Read | null {
  const words = text
    .slice(0, LONGEST)
    .toLowerCase()
    .replace(/[,\s]+/g, " ")
    .trim();
  try {
    return iso(words) ?? ahead(words, reader) ?? withTime(words, reader);
  } catch {
    // A date that no calendar has, such as 31 Feb.
    return null;
  }
}

function iso(words: string): Read | null {
  const found = /^(\d{4}-\d\d-\d\d)(?:[t ](\d\d:\d\d)(?::\d\d(?:\.\d+)?)?)?$/.exec(words);
  if (!found) return null;
  const [, date = "", time] = found;
  return { date: Temporal.PlainDate.from(date), time: time ? Temporal.PlainTime.from(time) : null };
}

/** `in 3 wd`, `in 2 weeks`, `in 4 h`. */
function ahead(words: string, reader: Reader): Read | null {
  const found = /^(?:in )?(\d{1,3}) ?(wd|working days?|d|days?|w|weeks?|h|hours?)(?: (.+))?$/.exec(words);
  if (!found) return null;
  const [, count = "", unit = "", rest] = found;
  const present = nowIn(reader);
  if (unit.startsWith("h")) {
    // `9h` is a time of day in many places.
    if (rest || !words.startsWith("in ")) return null;
    const then = present.add({ hours: Number(count) });
    return { date: then.toPlainDate(), time: then.toPlainTime() };
  }
  const time = rest === undefined ? null : timeOf(rest);
  if (rest !== undefined && !time) return null;
  if (unit.startsWith("wd") || unit.startsWith("working")) {
    const then = due(reader.calendar, reader.now, `${count}wd`);
    return { date: nowIn({ ...reader, now: then - 1 }).toPlainDate(), time };
  }
  return { date: present.toPlainDate().add({ days: Number(count) * (unit.startsWith("w") ? 7 : 1) }), time };
}

/** A date with or without a time behind it, or a time of today. */
function withTime(words: string, reader: Reader): Read | null {
  const whole = dateOf(words, reader);
  if (whole) return { date: whole, time: null };
  const found = /^(?:(.+?) )?(?:at )?(\S+)$/.exec(words);
  const time = timeOf(found?.[2] ?? "");
  if (!time) return null;
  const said = found?.[1];
  // A bare number is no time of today: it may be the beginning of a date.
  if (said === undefined) return /[:.h]/.test(words) ? { date: nowIn(reader).toPlainDate(), time } : null;
  const date = dateOf(said, reader);
  return date && { date, time };
}

function timeOf(word: string): Temporal.PlainTime | null {
  const found = /^(?:at )?([01]?\d|2[0-3])(?:[:.h]([0-5]\d)?)?$/.exec(word);
  return found ? new Temporal.PlainTime(Number(found[1]), Number(found[2] ?? 0)) : null;
}

const DAYS_AWAY: Record<string, number> = { yesterday: -1, today: 0, tomorrow: 1 };

function dateOf(words: string, reader: Reader): Temporal.PlainDate | null {
  const today = nowIn(reader).toPlainDate();
  if (Object.hasOwn(DAYS_AWAY, words)) return today.add({ days: DAYS_AWAY[words] as number });
  const [first = ""] = words.split(" ");
  const weekday = /^[a-z]{3,}$/.test(first) ? weekdayOf(first) : null;
  if (weekday !== null && words === first) return today.add({ days: ((weekday - today.dayOfWeek + 6) % 7) + 1 });
  const rest = weekday === null ? words : words.slice(first.length + 1);
  const named = /^(\d{1,2})(?:st|nd|rd|th)?\.? ([a-z]{3,9})\.?(?: (\d{4}))?$/.exec(rest);
  const numbered = /^(\d{1,2})[./](\d{1,2})(?:\.|[./](\d{4}))?$/.exec(rest);
  const month = named ? MONTHS.findIndex((one) => named[2]?.startsWith(one)) + 1 : Number(numbered?.[2] ?? 0);
  const [, day, , year] = named ?? numbered ?? [];
  // `9.15` alone is a time.
  if (!day || month === 0 || (numbered && rest === words && !year && !/[/.]$|\//.test(rest))) return null;
  const inYear = (one: number) =>
    Temporal.PlainDate.from({ year: one, month, day: Number(day) }, { overflow: "reject" });
  if (year) return inYear(Number(year));
  const thisYear = inYear(today.year);
  const meant = weekday !== null && weekday === thisYear.dayOfWeek;
  return !meant && thisYear.until(today).days > PASSED ? inYear(today.year + 1) : thisYear;
}

/** 1 for Monday; null where the word is none. */
function weekdayOf(word: string): number | null {
  const at = WEEKDAYS.findIndex((one) => word.startsWith(one));
  return at < 0 ? null : at + 1;
}

/** When work ends on a day, by the clock of the zone dates are written in. */
function closing(date: Temporal.PlainDate, { zone, calendar }: Reader): Temporal.PlainTime {
  const noon = date.toZonedDateTime({ timeZone: zone, plainTime: "12:00" }).epochMilliseconds;
  const end = dayOf(calendar, noon).open.at(-1)?.end;
  const then = end === undefined ? null : Temporal.Instant.fromEpochMilliseconds(end).toZonedDateTimeISO(zone);
  return then?.toPlainDate().equals(date) ? then.toPlainTime() : new Temporal.PlainTime(12);
}
