import { Temporal } from "temporal-polyfill";
import { type Calendar, type Day, dayAt, dayOf } from "./calendar.ts";

const HOUR = 3_600_000;
const MINUTE = 60_000;
const HORIZON_DAYS = 3_700;

/** A length of work: `6wh` working hours, `3wd` working days, `2d` calendar days, `5h` elapsed hours. */
export const TAKE = /^(\d{1,4}(\.\d{1,4})?(wh|h)|\d{1,4}(wd|d))$/;

/**
 * When work begun at `from` is due.
 *
 * @param from epoch milliseconds, UTC
 * @param take a length by `TAKE`
 * @returns epoch milliseconds: for `wh` the first instant by which the hours are used, for `wd` the
 *   close of the nth working day after the first whose close is after `from`
 * @throws RangeError when `take` is malformed, or the calendar has too little open time in ten years
 */
export function due(calendar: Calendar, from: number, take: string): number {
  const { amount, unit } = parseTake(take);
  switch (unit) {
    case "h":
      return from + amount * HOUR;
    case "d":
      return Temporal.Instant.fromEpochMilliseconds(from).toZonedDateTimeISO(calendar.timeZone).add({ days: amount })
        .epochMilliseconds;
    case "wd":
      return closeAfter(calendar, from, amount);
    case "wh":
      return hoursAfter(calendar, from, amount * HOUR);
  }
}

/**
 * The latest whole minute at which work of this length may begin to be due by `leaveBy`.
 *
 * `due` never falls as its start rises, but for calendar days around a clock change; there the
 * few hours before the bound are walked minute by minute, everywhere else the minute is bisected.
 *
 * @param leaveBy epoch milliseconds, UTC
 * @throws RangeError as `due` does
 */
export function arriveBy(calendar: Calendar, leaveBy: number, take: string): number {
  const { amount, unit } = parseTake(take);
  const fits = (minute: number) => due(calendar, minute * MINUTE, take) <= leaveBy;
  if (unit === "d") {
    let minute = Math.floor((leaveBy - amount * 24 * HOUR) / MINUTE) + 180;
    while (!fits(minute)) minute -= 1;
    return minute * MINUTE;
  }
  let late = Math.floor(leaveBy / MINUTE);
  if (fits(late)) return late * MINUTE;
  let reach = 60;
  while (!fits(late - reach)) {
    reach *= 2;
    if (reach > HORIZON_DAYS * 1440) throw tooLittleTime();
  }
  let early = late - reach;
  while (late - early > 1) {
    const middle = (early + late) >> 1;
    if (fits(middle)) early = middle;
    else late = middle;
  }
  return early * MINUTE;
}

/** Open milliseconds between two instants; negative when `until` lies before `from`. */
export function openTime(calendar: Calendar, from: number, until: number): number {
  if (until < from) return -openTime(calendar, until, from);
  let total = 0;
  for (let day = dayOf(calendar, from); day.start < until; day = dayAt(calendar, day.number + 1)) {
    for (const span of day.open) total += Math.max(0, Math.min(span.end, until) - Math.max(span.start, from));
  }
  return total;
}

function parseTake(take: string) {
  if (!TAKE.test(take)) throw new RangeError(`"${take}" is no length of work`);
  const unit = take.replace(/[\d.]/g, "") as "wh" | "wd" | "d" | "h";
  return { amount: Number.parseFloat(take), unit };
}

function hoursAfter(calendar: Calendar, from: number, length: number): number {
  let left = length;
  if (left === 0) return from;
  for (const day of daysFrom(calendar, from)) {
    for (const span of day.open) {
      const start = Math.max(span.start, from);
      if (start >= span.end) continue;
      if (left <= span.end - start) return start + left;
      left -= span.end - start;
    }
  }
  throw tooLittleTime();
}

function closeAfter(calendar: Calendar, from: number, workingDays: number): number {
  let passed = -1;
  for (const day of daysFrom(calendar, from)) {
    const close = day.open.at(-1)?.end;
    if (close === undefined || close <= from) continue;
    passed += 1;
    if (passed === workingDays) return close;
  }
  throw tooLittleTime();
}

function* daysFrom(calendar: Calendar, from: number): Generator<Day> {
  let day = dayOf(calendar, from);
  for (let i = 0; i < HORIZON_DAYS; i++) {
    yield day;
    day = dayAt(calendar, day.number + 1);
  }
}

const tooLittleTime = () => new RangeError("the calendar has too little open time within ten years");
