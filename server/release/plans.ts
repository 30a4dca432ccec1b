import { and, eq, inArray } from "drizzle-orm";
import { releaseCancelled } from "#core/events/release.ts";
import { release } from "../db/schema/index.ts";
import { cancel } from "../tasks/schedule.ts";
import type { Change } from "../write.ts";

export type Plan = typeof release.$inferSelect;

/** What of a release is not over: proposed, planned, or held. */
export const OPEN = ["proposed", "planned", "held"] as const;

/** The open plan of a piece, locked; undefined where it has none. */
export async function openPlan({ tx }: Change, pieceId: string): Promise<Plan | undefined> {
  const [plan] = await tx
    .select()
    .from(release)
    .where(and(eq(release.pieceId, pieceId), inArray(release.status, [...OPEN])))
    .for("update");
  return plan;
}

/** Ends whatever is still planned for a piece, on record. @param why in a few words; absent where somebody took it back */
export async function endPlan(change: Change, pieceId: string, why?: string): Promise<Plan | undefined> {
  const plan = await openPlan(change, pieceId);
  if (!plan) return undefined;
  await change.tx.update(release).set({ status: "cancelled", holds: [] }).where(eq(release.id, plan.id));
  await cancel(change.tx, "release", [plan.id]);
  change.happened(
    releaseCancelled,
    { why },
    { pieceId, subjectId: plan.id, before: { at: plan.at, status: plan.status } },
  );
  return plan;
}
