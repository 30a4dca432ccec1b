import { z } from "zod";
import { isZone, WEEKDAYS } from "./calendar.ts";

const wallTime = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$|^24:00$/, "expected a time such as 09:00, at most 24:00");
const opening = z
  .tuple([wallTime, wallTime])
  .refine(([from, until]) => from < until, "an opening must end after it begins");
const localDate = z.iso.date("expected a date such as 2026-12-08");

/** A working calendar: a zone, weekly openings in local time, closed dates, dates with hours of their own. */
export const calendarSchema = z
  .strictObject({
    timeZone: z.string().refine(isZone, "expected an IANA time zone such as Europe/Rome"),
    week: z.partialRecord(z.enum(WEEKDAYS), z.array(opening)),
    closed: z.array(localDate).default([]),
    special: z.array(z.strictObject({ date: localDate, hours: z.array(opening) })).default([]),
  })
  .refine((calendar) => Object.values(calendar.week).some((hours) => hours.length > 0), {
    path: ["week"],
    message: "at least one day of the week must be open",
  });
