import { carryOut } from "../passage/carry-out.ts";
import { actOf, type Job } from "./job.ts";

/** Carries out a release whose time has come. */
export const releases: Job = {
  lease: 15_000,
  batch: 20,
  rest: 500,
  async run(worker, { subject }, now) {
    const done = await carryOut(actOf(worker, "releases", now), subject);
    if (!done.ok) throw new Error(`a release could not be carried out: ${done.refusal.code}`);
    if (done.value !== "gone") worker.log.info({ release: subject, became: done.value }, "release");
    return null;
  },
};
