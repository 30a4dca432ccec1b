import { followLedger } from "../rules/follow.ts";
import { actOf, type Job } from "./job.ts";

/** The rules are asked anew after so long, in milliseconds. */
const AGAIN = 800;

/** The standing rules act on what happened; one node at a time asks them. */
export const rules: Job = {
  lease: 60_000,
  batch: 1,
  rest: 800,
  async run(worker, _, now) {
    const more = await followLedger(actOf(worker, "rules", now));
    return more ? now : now + AGAIN;
  },
};
