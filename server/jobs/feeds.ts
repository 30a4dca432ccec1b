import { lookAtFeed } from "../intake/feeds.ts";
import { renew } from "./claim.ts";
import { actOf, type Job } from "./job.ts";

/** Longer than a feed is waited for. */
const LEASE = 60_000;

/** Feeds are looked at for material, each in its turn. */
export const feeds: Job = {
  lease: LEASE,
  batch: 5,
  async run(worker, task, now) {
    if (!(await renew(worker, task, LEASE))) return null;
    return lookAtFeed(actOf(worker, "feeds", now), task.subject, worker.standIns);
  },
};
