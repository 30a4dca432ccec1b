import { and, eq, lte } from "drizzle-orm";
import { workflowAdoption } from "../db/schema/index.ts";
import { carryOutAdoption } from "../workflows/adopt.ts";
import { claimDue } from "./claim.ts";
import { actOf, type Job } from "./job.ts";

/** Long enough for ten thousand pieces. */
const LEASE = 120_000;

/** Puts workflows in use whose date has come. That each happens once is decided inside `carryOutAdoption`. */
export const adoptDue: Job = async (worker) => {
  const now = await worker.now();
  const due = and(eq(workflowAdoption.status, "planned"), lte(workflowAdoption.at, now));
  const rows = await claimDue(worker, workflowAdoption, due, workflowAdoption.at, { lease: LEASE, batch: 1 });
  for (const { id } of rows) {
    const done = await carryOutAdoption(actOf(worker, "adoptions", await worker.now()), id);
    worker.log.info({ adoption: id, became: done.ok ? done.value : done.refusal.code }, "a workflow's date came");
  }
  return rows.length;
};
