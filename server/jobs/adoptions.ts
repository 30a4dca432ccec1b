import { carryOutAdoption } from "../workflows/adopt.ts";
import { actOf, type Job } from "./job.ts";

/** Puts a workflow in use whose date has come; the lease is long enough for ten thousand pieces. */
export const adoptions: Job = {
  lease: 120_000,
  batch: 1,
  async run(worker, { subject }, now) {
    const done = await carryOutAdoption(actOf(worker, "adoptions", now), subject);
    worker.log.info({ adoption: subject, became: done.ok ? done.value : done.refusal.code }, "a workflow's date came");
    return null;
  },
};
