import { z } from "zod";
import { RUN_MOST } from "./anchor.ts";

/** No text is longer than this, in code points. */
const TEXT_MOST = 2_000_000;

/** What a selection sends: two positions in the text it was made in. */
export const rangeSchema = z
  .strictObject({ start: z.int().min(0).max(TEXT_MOST), end: z.int().min(0).max(TEXT_MOST) })
  .refine(({ start, end }) => start < end, "Select some words.")
  .refine(({ start, end }) => end - start <= RUN_MOST, `A remark stands on at most ${RUN_MOST} characters.`);
