import { z } from "zod";

/** What is usual in a channel. */
export const usualSchema = z.object({
  /** The time of day it leaves, local: `07:00`; null for none. */
  at: z.iso.time({ precision: -1 }).nullable().default(null),
  /** For so many days readers see it; null for always. */
  days: z.int().min(1).max(3_650).nullable().default(null),
});
