import { thinVersions } from "../text/thinning.ts";
import { actOf, type Job } from "./job.ts";

/** Thins out a piece's old versions nobody relies on, and says when there will be more. */
export const thinning: Job = {
  lease: 30_000,
  batch: 20,
  async run(worker, { subject }, now) {
    const done = await thinVersions(actOf(worker, "versions", now), subject);
    return done.ok ? done.value.again : null;
  },
};
