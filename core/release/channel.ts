import type { z } from "zod";
import { dayAfter, localDate, sameTimeOn } from "../time/local.ts";
import type { usualSchema } from "./channel-format.ts";

/** The key of the reader site, the one channel there always is. */
export const SITE = "site";

/** What holds of what leaves through a channel one by one, where nothing else is said. */
export type Usual = z.infer<typeof usualSchema>;

export const NOTHING_USUAL: Usual = { at: null, days: null };

/** When readers see something no more, by what is usual in its channel; null for never. @param at when it leaves */
export const usualEnd = ({ days }: Usual, at: number, zone: string): number | null =>
  days === null ? null : sameTimeOn(at, dayAfter(localDate(at, zone), days), zone);
