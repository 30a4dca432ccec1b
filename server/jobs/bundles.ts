import { workOn } from "../together/commands.ts";
import { actOf, type Job } from "./job.ts";

/** One thing done to many pieces goes on, some of them at a time. */
export const bundles: Job = {
  lease: 60_000,
  batch: 4,
  async run(worker, { subject }, now) {
    return (await workOn(actOf(worker, "bundles", now), subject)) ? now : null;
  },
};
