import { and, inArray } from "drizzle-orm";
import { releaseCancelled } from "#core/events/release.ts";
import { release } from "../db/schema/index.ts";
import { cancel } from "../tasks/schedule.ts";
import type { Change } from "../write.ts";

export type Plan = typeof release.$inferSelect;

/** What of a release is not over: proposed, planned, or held. */
export const OPEN = ["proposed", "planned", "held"] as const;

/** The open plans of some pieces, locked. */
const openPlans = ({ tx }: Change, pieceIds: readonly string[]): Promise<Plan[]> =>
  tx
    .select()
    .from(release)
    .where(and(inArray(release.pieceId, [...pieceIds]), inArray(release.status, [...OPEN])))
    .for("update");

/** The open plan of a piece, locked; undefined where it has none. */
export async function openPlan(change: Change, pieceId: string): Promise<Plan | undefined> {
  const [plan] = await openPlans(change, [pieceId]);
  return plan;
}

/** Ends whatever is still planned for pieces, on record. @param why in a few words; absent where somebody took it back */
export async function endPlans(change: Change, pieceIds: readonly string[], why?: string): Promise<Plan[]> {
  const plans = await openPlans(change, pieceIds);
  if (plans.length === 0) return [];
  const ids = plans.map((plan) => plan.id);
  await change.tx.update(release).set({ status: "cancelled", holds: [] }).where(inArray(release.id, ids));
  await cancel(change.tx, "release", ids);
  for (const { id, pieceId, at, status } of plans)
    change.happened(releaseCancelled, { why }, { pieceId, subjectId: id, before: { at, status } });
  return plans;
}

/** The same for one piece; undefined where nothing was planned. */
export async function endPlan(change: Change, pieceId: string, why?: string): Promise<Plan | undefined> {
  const [plan] = await endPlans(change, [pieceId], why);
  return plan;
}
