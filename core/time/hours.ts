/** A stretch of a day by its wall times, `09:00` to `13:00`. */
export type Hours = readonly [from: string, until: string];

const HOURS = /^(\d{1,2}:\d{2})\s*[-–]\s*(\d{1,2}:\d{2})$/;

/** Stretches of a day as a person writes them: `09:00-13:00, 14:00-17:30`; nothing for none. */
export const writeHours = (hours: readonly Hours[]): string =>
  hours.map(([from, until]) => `${from}-${until}`).join(", ");

/** Reads them; null where something of it is none. */
export function readHours(text: string): [string, string][] | null {
  const parts = text
    .split(",")
    .map((part) => part.trim())
    .filter((part) => part !== "");
  const read = parts.map((part) => HOURS.exec(part));
  if (read.some((one) => one === null)) return null;
  return read.map((one) => [padded(one?.[1]), padded(one?.[2])]);
}

/** The lines of a text that hold anything. */
export const linesOf = (text: string): string[] =>
  text
    .split("\n")
    .map((line) => line.trim())
    .filter((line) => line !== "");

const padded = (time = "") => time.padStart(5, "0");

/** The minutes since midnight of a wall time, `24:00` among them. */
export const minutesOf = (time: string) => Number(time.slice(0, 2)) * 60 + Number(time.slice(3));

/** The same back. */
export const clockOf = (minutes: number) =>
  `${String(Math.floor(minutes / 60)).padStart(2, "0")}:${String(minutes % 60).padStart(2, "0")}`;
