import { followLedger, tryAgain } from "../rules/follow.ts";
import { actOf, type Job } from "./job.ts";

/** What a rule could not do is tried once more. */
export const rulesAgain: Job = {
  lease: 60_000,
  batch: 10,
  run: (worker, { subject }, now) => tryAgain(actOf(worker, "rules", now), subject),
};

/** The rules are asked anew after so long, in milliseconds. */
const AGAIN = 800;

/** The standing rules act on what happened; one node at a time asks them. */
export const rules: Job = {
  lease: 60_000,
  batch: 1,
  async run(worker, _, now) {
    const more = await followLedger(actOf(worker, "rules", now));
    return more ? now : now + AGAIN;
  },
};
