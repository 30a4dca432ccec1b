import { and, asc, eq, isNull, lte, or } from "drizzle-orm";
import { v7 } from "uuid";
import { release } from "../db/schema/index.ts";
import { carryOut } from "../releases/commands.ts";
import type { Job, Worker } from "./job.ts";

const LEASE = 15_000;
const BATCH = 20;

/**
 * Carries out releases whose time has come. A batch is claimed by one conditional update; a claim
 * that is not honoured within its lease, because its node died, is free for the others. The claim
 * only spreads the work: that each happens once is decided inside `carryOut`, under the row's lock.
 */
export const releaseDue: Job = async (worker) => {
  const ids = await claim(worker);
  let dealt = 0;
  for (const id of ids) {
    const now = await worker.now();
    const done = await carryOut(
      {
        db: worker.db,
        personId: null,
        now,
        origin: `job releases on ${worker.node}`,
        requestId: v7(),
        baseUrl: worker.baseUrl,
      },
      id,
    );
    if (!done.ok) {
      worker.log.error({ release: id, refusal: done.refusal }, "a release could not be carried out");
      continue;
    }
    dealt += 1;
    if (done.value !== "gone") worker.log.info({ release: id, became: done.value }, "release");
  }
  return dealt;
};

async function claim({ db, node, now }: Worker): Promise<string[]> {
  const at = await now();
  const lease = Date.now();
  const due = and(eq(release.status, "planned"), lte(release.at, at));
  const free = or(isNull(release.leaseUntil), lte(release.leaseUntil, lease));
  await db
    .update(release)
    .set({ leaseOwner: node, leaseUntil: lease + LEASE })
    .where(and(due, free))
    .orderBy(asc(release.at))
    .limit(BATCH);
  const rows = await db
    .select({ id: release.id })
    .from(release)
    .where(and(due, eq(release.leaseOwner, node)))
    .orderBy(asc(release.at))
    .limit(BATCH);
  return rows.map((row) => row.id);
}
