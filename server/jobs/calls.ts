import { makeCall } from "../rules/calls.ts";
import { renew } from "./claim.ts";
import { actOf, type Job } from "./job.ts";

/** Longer than the other side is waited for. */
const LEASE = 30_000;

/** Outside services are called by the rules that say so; what fails is tried again, longer each time. */
export const calls: Job = {
  lease: LEASE,
  batch: 10,
  async run(worker, task, now) {
    if (!(await renew(worker, task, LEASE))) return null;
    return makeCall(actOf(worker, "calls", now), task.subject, worker.standIns);
  },
};
