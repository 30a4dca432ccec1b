import { Temporal } from "temporal-polyfill";
import type { z } from "zod";
import { type Span, WEEKDAYS } from "../time/calendar.ts";
import { minutesOf } from "../time/hours.ts";
import type { windowsSchema } from "./windows-format.ts";

const [MINUTE, DAY] = [60_000, 86_400_000];
const DAY_MINUTES = 1440;
/** So far ahead a window is looked for, in days; beyond it nothing leaves. */
export const HORIZON_DAYS = 400;

/** When a channel lets anything leave. */
export type Windows = z.infer<typeof windowsSchema>;

/** Open at every minute, in a zone. */
export const alwaysOpen = (zone: string): Windows => ({
  format: "elenco.windows/1",
  zone,
  closed: [],
  blackouts: [],
  spacing: 0,
});

/**
 * When each of several wishes leaves: at the first open whole minute not before it, nor before the one before it and
 * the spacing; in the order of their time, equal ones in the order given.
 *
 * @param wishes epoch milliseconds
 * @returns epoch milliseconds in the order of the wishes; null where nothing opens within {@link HORIZON_DAYS} days
 */
export function leave(windows: Windows, wishes: readonly number[]): (number | null)[] {
  const answers = new Array<number | null>(wishes.length).fill(null);
  const order = [...wishes.keys()].sort((a, b) => (wishes[a] as number) - (wishes[b] as number) || a - b);
  let free = Number.NEGATIVE_INFINITY;
  for (const i of order) {
    const at = opens(windows, Math.max(wishes[i] as number, free));
    answers[i] = at;
    if (at !== null) free = at + windows.spacing * MINUTE;
  }
  return answers;
}

/**
 * When one more wish leaves beside others that are planned already and stay where they are.
 *
 * @param others when the others leave, epoch milliseconds
 * @returns null where nothing opens within {@link HORIZON_DAYS} days
 */
export function leaveBeside(windows: Windows, wish: number, others: readonly number[]): number | null {
  const spacing = windows.spacing * MINUTE;
  const later = others.filter((one) => one > wish - spacing).sort((a, b) => a - b);
  let at = opens(windows, wish);
  for (const other of later) {
    if (at === null || other >= at + spacing) break;
    if (other > at - spacing) at = opens(windows, other + spacing);
  }
  return at;
}

/** The first open whole minute at or after an instant, epoch milliseconds; null where none comes in time. */
export function opens(windows: Windows, from: number): number | null {
  const at = Math.ceil(from / MINUTE) * MINUTE;
  const first = dayNumber(windows, at);
  for (let day = first; day <= first + HORIZON_DAYS; day++)
    for (const { start, end } of openOn(windows, day)) {
      const minute = Math.max(at, Math.ceil(start / MINUTE) * MINUTE);
      if (minute < end) return minute;
    }
  return null;
}

/** Whether an instant lies in open time. */
export const isOpen = (windows: Windows, at: number): boolean => {
  const minute = Math.floor(at / MINUTE) * MINUTE;
  return opens(windows, minute) === minute;
};

/** The open stretches between two instants, in order. @param until at most a year later */
export function openBetween(windows: Windows, from: number, until: number): Span[] {
  const spans: Span[] = [];
  for (let day = dayNumber(windows, from); day <= dayNumber(windows, until); day++)
    for (const { start, end } of openOn(windows, day)) {
      const cut = { start: Math.max(start, from), end: Math.min(end, until) };
      if (cut.start < cut.end) spans.push(cut);
    }
  return spans;
}

/** A local day: when it begins and ends, and its open stretches. */
interface Day {
  start: number;
  end: number;
  open: Span[];
}

const known = new WeakMap<Windows, Map<number, Day>>();

/** The open stretches of a local day. @param number days since 1970-01-01, by the local date */
const openOn = (windows: Windows, number: number): Span[] => dayNumbered(windows, number).open;

/** A local day; each is computed once for each windows. */
function dayNumbered(windows: Windows, number: number): Day {
  const days = known.get(windows) ?? new Map<number, Day>();
  known.set(windows, days);
  const found = days.get(number);
  if (found) return found;
  const plain = Temporal.PlainDate.from(dateOf(number));
  const begins = (date: Temporal.PlainDate) => date.toZonedDateTime({ timeZone: windows.zone }).epochMilliseconds;
  const day = { start: begins(plain), end: begins(plain.add({ days: 1 })), open: computed(windows, number) };
  days.set(number, day);
  return day;
}

const dateOf = (number: number) => new Date(number * DAY).toISOString().slice(0, 10);

function computed(windows: Windows, number: number): Span[] {
  const date = dateOf(number);
  if (windows.closed.includes(date)) return [];
  const open = stretches(wallOn(windows, number)).flatMap((wall) => asInstants(windows.zone, date, wall));
  const dark = windows.blackouts.map(({ from, until }) => ({ start: Date.parse(from), end: Date.parse(until) }));
  return dark
    .reduce((spans, out) => spans.flatMap((span) => without(span, out)), open)
    .sort((a, b) => a.start - b.start);
}

/** Stretches of wall time, in minutes of their day. */
interface Wall {
  from: number;
  until: number;
}

function wallOn({ open }: Windows, number: number): Wall[] {
  if (!open) return [{ from: 0, until: DAY_MINUTES }];
  const named = (day: number) => WEEKDAYS[(((day + 3) % 7) + 7) % 7] as (typeof WEEKDAYS)[number];
  return open.flatMap(({ days, from, until }): Wall[] => {
    const [begins, ends] = [minutesOf(from), minutesOf(until)];
    const today = days.includes(named(number));
    if (begins < ends) return today ? [{ from: begins, until: ends }] : [];
    const parts = [
      ...(today ? [{ from: begins, until: DAY_MINUTES }] : []),
      ...(days.includes(named(number - 1)) ? [{ from: 0, until: ends }] : []),
    ];
    return parts.filter((part) => part.from < part.until);
  });
}

/** The same stretches in order, those that touch joined. */
function stretches(walls: readonly Wall[]): Wall[] {
  const joined: Wall[] = [];
  for (const { from, until } of walls.toSorted((a, b) => a.from - b.from)) {
    const last = joined.at(-1);
    if (last && from <= last.until) last.until = Math.max(last.until, until);
    else joined.push({ from, until });
  }
  return joined;
}

/** A stretch of wall time as instants: twice where the clock was put back over it, not where it was put forward. */
function asInstants(zone: string, date: string, { from, until }: Wall): Span[] {
  const plain = Temporal.PlainDate.from(date);
  const begins = plain.toZonedDateTime({ timeZone: zone });
  const end = plain.add({ days: 1 }).toZonedDateTime({ timeZone: zone }).epochMilliseconds;
  const midnight = plain.toZonedDateTime("UTC").epochMilliseconds;
  const spans: Span[] = [];
  // As long as the offset stays, wall time and instants run along.
  for (let part = begins; part.epochMilliseconds < end; ) {
    const next = part.getTimeZoneTransition("next");
    const partEnd = Math.min(end, next?.epochMilliseconds ?? end);
    const offset = part.offsetNanoseconds / 1e6;
    const start = Math.max(part.epochMilliseconds, midnight + from * MINUTE - offset);
    const stop = Math.min(partEnd, midnight + until * MINUTE - offset);
    if (start < stop) spans.push({ start, end: stop });
    if (!next || partEnd === end) break;
    part = next;
  }
  return spans;
}

function without(span: Span, out: Span): Span[] {
  if (out.end <= span.start || out.start >= span.end) return [span];
  const parts = [
    { start: span.start, end: Math.min(span.end, out.start) },
    { start: Math.max(span.start, out.end), end: span.end },
  ];
  return parts.filter((part) => part.start < part.end);
}

/** The local day an instant lies in: that of UTC, or one beside it. */
function dayNumber(windows: Windows, at: number): number {
  let number = Math.floor(at / DAY);
  while (at < dayNumbered(windows, number).start) number -= 1;
  while (at >= dayNumbered(windows, number).end) number += 1;
  return number;
}
