import { callLate } from "../passage/reminding.ts";
import { write } from "../write.ts";
import { actOf, type Job } from "./job.ts";

/** A review reminds whoever has not decided, and what the workflow says of the late follows. */
export const reminders: Job = {
  lease: 30_000,
  batch: 20,
  async run(worker, { subject: roundId }, now) {
    const done = await write(actOf(worker, "reminders", now), (change) => callLate(change, roundId));
    return done.ok ? done.value : null;
  },
};
