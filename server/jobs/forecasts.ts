import { refreshLikely } from "../flow/likely.ts";
import type { Job } from "./job.ts";

/** So long after one look whether anything moved the next is taken, in milliseconds. */
const EVERY = 60_000;

/** What is likely of the pieces in flight is kept as things move, a line at a time, apart from what nodes answer. */
export const forecasts: Job = {
  lease: 10 * 60_000,
  batch: 1,
  async run({ db }, _, now) {
    await refreshLikely(db, now);
    return now + EVERY;
  },
};
