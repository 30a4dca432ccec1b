const DAY = 86_400_000;
const HOUR = 3_600_000;
const MINUTE = 60_000;

const OPTIONS = {
  day: { weekday: "short", day: "numeric", month: "short", year: "numeric" },
  time: { hour: "2-digit", minute: "2-digit" },
  exact: {
    weekday: "long",
    day: "numeric",
    month: "long",
    year: "numeric",
    hour: "2-digit",
    minute: "2-digit",
    timeZoneName: "short",
  },
} satisfies Record<string, Intl.DateTimeFormatOptions>;

const formats = new Map<string, Intl.DateTimeFormat>();

/** An instant in a zone; the formats are kept, since making one costs as much as a thousand uses. */
function format(as: keyof typeof OPTIONS, at: number, zone: string): string {
  const key = as + zone;
  let found = formats.get(key);
  if (!found) {
    found = new Intl.DateTimeFormat("en-GB", { timeZone: zone, ...OPTIONS[as] });
    formats.set(key, found);
  }
  return found.format(at);
}

const days = new Map<string, string>();
const DAYS_KEPT = 200;

/** `Thu 26 Nov 2026`; kept for a while, since a page says the same few days over and over. */
function dated(at: number, zone: string): string {
  const key = at + zone;
  const known = days.get(key) ?? format("day", at, zone).replace(",", "");
  if (days.size >= DAYS_KEPT) days.clear();
  days.set(key, known);
  return known;
}

/** A date as a person says it: `Thu 26 Nov`, with the year where it is another. */
export function sayDate(at: number, zone: string, now: number): string {
  const date = dated(at, zone);
  return date.endsWith(dated(now, zone).slice(-5)) ? date.slice(0, -5) : date;
}

/** A time of day: `17:30`. */
export const sayTime = (at: number, zone: string) => format("time", at, zone);

/** An instant as a person says it: `today, 17:30`, `Thu 26 Nov, 17:30`. */
export function sayInstant(at: number, zone: string, now: number): string {
  const day = dated(at, zone) === dated(now, zone) ? "today" : sayDate(at, zone, now);
  return `${day}, ${sayTime(at, zone)}`;
}

/** An instant exactly, for a title or a tooltip: `Thursday 26 November 2026, 17:30 CET`. */
export const sayExactly = (at: number, zone: string) => format("exact", at, zone);

/** A length of elapsed time, to one unit: `40 min`, `6 h`, `3 d`; what has only begun counts as a minute. */
export function sayLength(milliseconds: number): string {
  const length = Math.abs(milliseconds);
  if (length >= DAY) return `${Math.floor(length / DAY)} d`;
  if (length >= HOUR) return `${Math.floor(length / HOUR)} h`;
  return `${Math.max(1, Math.floor(length / MINUTE))} min`;
}

/** How far a due date is: `1 day late`, `in 5 hours`. */
export function sayDue(at: number, now: number): string {
  const length = Math.abs(at - now);
  const [count, unit] =
    length >= DAY
      ? [Math.floor(length / DAY), "day"]
      : length >= HOUR
        ? [Math.floor(length / HOUR), "hour"]
        : [Math.floor(length / MINUTE), "minute"];
  const words = `${count} ${unit}${count === 1 ? "" : "s"}`;
  return at < now ? `${words} late` : `in ${words}`;
}

/** A time allowed as workflows write it, in words: `3wd` is `3 working days`. */
export function sayTake(take: string): string {
  const [, number = "", unit = ""] = /^([\d.]+)(\D+)$/.exec(take) ?? [];
  const name = { wd: "working day", wh: "working hour", d: "day", h: "hour" }[unit] ?? unit;
  return `${number} ${name}${number === "1" ? "" : "s"}`;
}
