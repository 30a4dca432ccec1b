import { Temporal } from "temporal-polyfill";
import { WEEKDAYS } from "../time/calendar.ts";
import { clockOf, type Hours, linesOf, minutesOf, readHours, writeHours } from "../time/hours.ts";
import { groupBy } from "../words/group.ts";
import type { Windows } from "./window.ts";
import { windowsSchema } from "./windows-format.ts";

type Day = (typeof WEEKDAYS)[number];
const WHOLE: Hours = ["00:00", "24:00"];

/** A channel's windows as a person writes them. */
export interface WindowsText {
  /** Of each day when something may leave: `22:00-06:00`, past midnight where it ends before it begins. */
  week: Record<Day, string>;
  /** A date a line, `2026-12-24`. */
  closed: string;
  /** A stretch a line, `2026-12-01 10:00 - 2026-12-01 18:00`, in the publication's zone. */
  blackouts: string;
  /** Minutes. */
  spacing: string;
}

/** Writes windows for their form. */
export function writeWindowsForm({ open, closed, blackouts, spacing, zone }: Windows): WindowsText {
  const of = (day: Day): Hours[] =>
    open ? open.filter((one) => one.days.includes(day)).map(({ from, until }) => [from, until]) : [WHOLE];
  const local = (instant: string) =>
    Temporal.Instant.from(instant)
      .toZonedDateTimeISO(zone)
      .toPlainDateTime()
      .toString({ smallestUnit: "minute" })
      .replace("T", " ");
  return {
    week: Object.fromEntries(WEEKDAYS.map((day) => [day, writeHours(of(day))])) as WindowsText["week"],
    closed: closed.join("\n"),
    blackouts: blackouts.map(({ from, until }) => `${local(from)} - ${local(until)}`).join("\n"),
    spacing: String(spacing),
  };
}

const BLACKOUT = /^(\d{4}-\d\d-\d\d[ T]\d\d:\d\d)\s*[-–]\s*(\d{4}-\d\d-\d\d[ T]\d\d:\d\d)$/;

/** Reads windows from their form, or says which field was not understood and why. @param zone the publication's */
export function readWindowsForm(
  text: WindowsText,
  zone: string,
): { windows: Windows } | { field: string; message: string } {
  const hours: { day: Day; from: string; until: string }[] = [];
  for (const day of WEEKDAYS) {
    const read = readHours(text.week[day]);
    if (!read)
      return { field: day, message: "Write hours as 06:00-22:00 or 22:00-06:00; leave it empty for a closed day." };
    hours.push(...read.map(([from, until]) => ({ day, from, until })));
  }
  const blackouts: { from: string; until: string }[] = [];
  for (const line of linesOf(text.blackouts)) {
    const [, from, until] = BLACKOUT.exec(line) ?? [];
    const [begins, ends] = [instantOf(from, zone), instantOf(until, zone)];
    if (!begins || !ends) return { field: "blackouts", message: "Write each as 2026-12-01 10:00 - 2026-12-01 18:00." };
    blackouts.push({ from: begins, until: ends });
  }
  const always = WEEKDAYS.every((day) =>
    hours.some((one) => one.day === day && one.from === WHOLE[0] && one.until === WHOLE[1]),
  );
  const open = [...groupBy(hours, ({ from, until }) => `${from} ${until}`).values()].map((some) => ({
    days: some.map((one) => one.day),
    from: some[0]?.from,
    until: some[0]?.until,
  }));
  const spacing = text.spacing.trim() === "" ? 0 : Number(text.spacing);
  const closed = linesOf(text.closed);
  const parsed = windowsSchema.safeParse({
    format: "elenco.windows/1",
    zone,
    ...(!always && { open }),
    closed,
    blackouts,
    spacing,
  });
  if (parsed.success) return { windows: parsed.data };
  const [issue] = parsed.error.issues;
  const [part, at] = issue?.path ?? [];
  const field = part === "open" ? (open[Number(at)]?.days[0] ?? "mon") : String(part ?? "mon");
  return { field, message: `${issue?.message ?? "This was not understood"}.` };
}

function instantOf(text: string | undefined, zone: string): string | null {
  try {
    const at = Temporal.PlainDateTime.from((text ?? "").replace(" ", "T")).toZonedDateTime(zone);
    return at.toInstant().toString({ smallestUnit: "minute" });
  } catch {
    return null;
  }
}

/** Hours of a day with a stretch more; those that touch are one. What cannot be read stays as it is. @param from minutes since midnight */
export function withHours(text: string, from: number, until: number): string {
  const read = readHours(text);
  if (!read || until <= from) return text;
  const overnight = read.filter(([begins, ends]) => minutesOf(ends) <= minutesOf(begins));
  const day = read
    .filter((one) => !overnight.includes(one))
    .map(([begins, ends]) => [minutesOf(begins), minutesOf(ends)] as const);
  const joined: [number, number][] = [];
  for (const [begins, ends] of [...day, [from, until] as const].sort((a, b) => a[0] - b[0])) {
    const last = joined.at(-1);
    if (last && begins <= last[1]) last[1] = Math.max(last[1], ends);
    else joined.push([begins, ends]);
  }
  return writeHours([...joined.map(([begins, ends]): Hours => [clockOf(begins), clockOf(ends)]), ...overnight]);
}
