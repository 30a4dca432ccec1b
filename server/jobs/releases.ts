import { and, eq, lte } from "drizzle-orm";
import { release } from "../db/schema/index.ts";
import { carryOut } from "../release/commands.ts";
import { claimDue } from "./claim.ts";
import { actOf, type Job } from "./job.ts";

const LEASE = 15_000;
const BATCH = 20;

/**
 * Carries out releases whose time has come. The claim
 * only spreads the work: that each happens once is decided inside `carryOut`, under the row's lock.
 */
export const releaseDue: Job = async (worker) => {
  const due = and(eq(release.status, "planned"), lte(release.at, await worker.now()));
  const rows = await claimDue(worker, release, due, release.at, { lease: LEASE, batch: BATCH });
  let dealt = 0;
  for (const { id } of rows) {
    const done = await carryOut(actOf(worker, "releases", await worker.now()), id);
    if (!done.ok) {
      worker.log.error({ release: id, refusal: done.refusal }, "a release could not be carried out");
      continue;
    }
    dealt += 1;
    if (done.value !== "gone") worker.log.info({ release: id, became: done.value }, "release");
  }
  return dealt;
};
