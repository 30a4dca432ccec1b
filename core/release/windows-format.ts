import { z } from "zod";
import { isZone, WEEKDAYS } from "../time/calendar.ts";

const DAY_MINUTES = 1440;

const clock = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$|^24:00$/, "expected a time such as 22:00, at most 24:00");
const instant = z.iso
  .datetime({ offset: true, precision: null })
  .or(
    z.string().regex(/^\d{4}-\d\d-\d\dT\d\d:\d\d(Z|[+-]\d\d:\d\d)$/, "expected an instant such as 2026-12-01T10:00Z"),
  );

/** When a channel lets anything leave: `elenco.windows/1`. */
export const windowsSchema = z.strictObject({
  format: z.literal("elenco.windows/1"),
  zone: z.string().refine(isZone, "expected an IANA time zone such as Europe/Rome"),
  /** Absent: always. One that ends before it begins goes past midnight and belongs to the day it begins. */
  open: z
    .array(
      z
        .strictObject({ days: z.array(z.enum(WEEKDAYS)).min(1).max(7), from: clock, until: clock })
        .refine(({ from, until }) => from !== until, "a window must end after it begins"),
    )
    .max(50)
    .optional(),
  /** Local dates on which nothing leaves. */
  closed: z.array(z.iso.date("expected a date such as 2026-12-24")).max(1000).default([]),
  blackouts: z
    .array(
      z
        .strictObject({ from: instant, until: instant })
        .refine(({ from, until }) => Date.parse(from) < Date.parse(until), "a blackout must end after it begins"),
    )
    .max(500)
    .default([]),
  /** Minutes between two releases. */
  spacing: z.int().min(0).max(DAY_MINUTES).default(0),
});
