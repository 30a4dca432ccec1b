import { PATIENCE, runErrand } from "../assist/errand.ts";
import { renew } from "./claim.ts";
import { actOf, type Job } from "./job.ts";

/** Longer than an assistant is waited for. */
const LEASE = PATIENCE + 30_000;

/** An assistant is sent for what somebody asked of it. */
export const errands: Job = {
  lease: LEASE,
  batch: 1,
  async run(worker, task, now) {
    if (!(await renew(worker, task, LEASE))) return null;
    return runErrand(actOf(worker, "errands", now), task.subject, worker.standIns);
  },
};
