import { endNow, tellOfEnd } from "../release/ending.ts";
import { actOf, type Job } from "./job.ts";

const patient = { lease: 15_000, batch: 20 };

/** Takes away from readers what has come to its end. */
export const endings: Job = {
  ...patient,
  async run(worker, { subject }, now) {
    await endNow(actOf(worker, "endings", now), subject);
    return null;
  },
};

/** Tells of what ends soon. */
export const endingsSoon: Job = {
  ...patient,
  async run(worker, { subject }, now) {
    await tellOfEnd(actOf(worker, "endings", now), subject);
    return null;
  },
};
