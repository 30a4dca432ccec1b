import { thankReaders } from "../intake/reports.ts";
import { actOf, type Job } from "./job.ts";

/** Readers who pointed out what is corrected now are thanked. */
export const thanks: Job = {
  lease: 60_000,
  batch: 10,
  async run(worker, { subject }, now) {
    await thankReaders(actOf(worker, "thanks", now), subject);
    return null;
  },
};
