import { type Calendar, WEEKDAYS } from "./calendar.ts";
import { calendarSchema } from "./calendar-format.ts";
import { linesOf, readHours, writeHours } from "./hours.ts";

/** A working calendar as a person writes it: hours as `09:00-13:00, 14:00-17:30`, dates a line each. */
export interface CalendarText {
  zone: string;
  week: Record<(typeof WEEKDAYS)[number], string>;
  /** A date a line, `2026-12-08`. */
  closed: string;
  /** A date with its hours a line, `2026-12-24: 09:00-12:00`. */
  special: string;
}

/** Writes a calendar for its form. */
export function writeCalendarForm(calendar: Calendar): CalendarText {
  const week = Object.fromEntries(WEEKDAYS.map((day) => [day, writeHours(calendar.week[day] ?? [])]));
  return {
    zone: calendar.timeZone,
    week: week as CalendarText["week"],
    closed: calendar.closed.join("\n"),
    special: calendar.special.map(({ date, hours }) => `${date}: ${writeHours(hours)}`).join("\n"),
  };
}

/** Reads a calendar from its form, or says which field was not understood and why. */
export function readCalendarForm(text: CalendarText): { calendar: Calendar } | { field: string; message: string } {
  const week: Record<string, [string, string][]> = {};
  for (const day of WEEKDAYS) {
    const hours = readHours(text.week[day]);
    if (!hours)
      return { field: day, message: "Write hours as 09:00-13:00, 14:00-17:30; leave it empty for a closed day." };
    week[day] = hours;
  }
  const closed = linesOf(text.closed);
  const special = linesOf(text.special).map((line) => {
    const colon = line.indexOf(":");
    return { date: line.slice(0, colon).trim(), hours: readHours(line.slice(colon + 1)) };
  });
  if (special.some((one) => one.hours === null))
    return { field: "special", message: "Write each as 2026-12-24: 09:00-12:00." };
  const parsed = calendarSchema.safeParse({ timeZone: text.zone, week, closed, special });
  if (parsed.success) return { calendar: parsed.data };
  const [issue] = parsed.error.issues;
  const at = String(issue?.path[0] ?? "zone");
  const field = at === "timeZone" ? "zone" : at === "week" ? String(issue?.path[1] ?? "mon") : at;
  return { field, message: `${issue?.message ?? "This was not understood"}.` };
}
