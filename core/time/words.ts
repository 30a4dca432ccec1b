const DAY = 86_400_000;
const HOUR = 3_600_000;
const MINUTE = 60_000;

const formats = new Map<string, Intl.DateTimeFormat>();

function format(zone: string, options: Intl.DateTimeFormatOptions): Intl.DateTimeFormat {
  const key = zone + JSON.stringify(options);
  let found = formats.get(key);
  if (!found) {
    found = new Intl.DateTimeFormat("en-GB", { timeZone: zone, ...options });
    formats.set(key, found);
  }
  return found;
}

const localDate = (at: number, zone: string) =>
  format(zone, { year: "numeric", month: "2-digit", day: "2-digit" }).format(at);
const year = (at: number, zone: string) => format(zone, { year: "numeric" }).format(at);

/** A date as a person says it: `Thu 26 Nov`, with the year where it is another. */
export function sayDate(at: number, zone: string, now: number): string {
  const day = format(zone, { weekday: "short", day: "numeric", month: "short" }).format(at).replace(",", "");
  return year(at, zone) === year(now, zone) ? day : `${day} ${year(at, zone)}`;
}

/** A time of day: `17:30`. */
export const sayTime = (at: number, zone: string) => format(zone, { hour: "2-digit", minute: "2-digit" }).format(at);

/** An instant as a person says it: `today, 17:30`, `Thu 26 Nov, 17:30`. */
export function sayInstant(at: number, zone: string, now: number): string {
  const day = localDate(at, zone) === localDate(now, zone) ? "today" : sayDate(at, zone, now);
  return `${day}, ${sayTime(at, zone)}`;
}

/** An instant exactly, for a title or a tooltip: `Thursday 26 November 2026, 17:30 CET`. */
export function sayExactly(at: number, zone: string): string {
  return format(zone, {
    weekday: "long",
    day: "numeric",
    month: "long",
    year: "numeric",
    hour: "2-digit",
    minute: "2-digit",
    timeZoneName: "short",
  }).format(at);
}

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
