import { sayDate } from "../time/words.ts";

/** When a piece is likely to arrive, epoch milliseconds: the middle, and the ends of the middle eight of ten. */
export interface Fan {
  p10: number;
  p50: number;
  p90: number;
}

/** Between when it arrives eight times of ten. */
export const sayFan = ({ p10, p90 }: Fan, zone: string, now: number): string =>
  `eight times of ten between ${sayDate(p10, zone, now)} and ${sayDate(p90, zone, now)}`;
