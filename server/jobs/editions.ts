import { leaveEdition, lookAhead } from "../editions/leaving.ts";
import { actOf, type Job } from "./job.ts";

/** Lets editions out whose time has come. */
export const editions: Job = {
  lease: 30_000,
  batch: 5,
  async run(worker, { subject }, now) {
    const left = await leaveEdition(actOf(worker, "editions", now), subject);
    if (!left.ok) throw new Error(`an edition could not leave: ${left.refusal.code}`);
    if (left.value !== "gone") worker.log.info({ edition: subject, became: left.value }, "edition");
    return null;
  },
};

/** Looks ahead at signed editions of which a piece was changed. */
export const editionsAhead: Job = {
  lease: 15_000,
  batch: 20,
  async run(worker, { subject }, now) {
    await lookAhead(actOf(worker, "editions", now), subject);
    return null;
  },
};
