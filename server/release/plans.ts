import { and, eq, inArray, isNull, sql } from "drizzle-orm";
import { editionEmptied } from "#core/events/editions.ts";
import { releaseCancelled } from "#core/events/release.ts";
import { channel, edition, editionItem, release } from "../db/schema/index.ts";
import { cancel, schedule } from "../tasks/schedule.ts";
import type { Change } from "../write.ts";
import { editionName } from "./ahead.ts";

export type Plan = typeof release.$inferSelect;

/** What of a release is not over: proposed, planned, or held. */
export const OPEN = ["proposed", "planned", "held"] as const;

/** The open plans of some pieces, locked. @param through the channel they leave through; all where it is left out */
export const openPlans = ({ tx }: Change, pieceIds: readonly string[], through?: string): Promise<Plan[]> =>
  tx
    .select()
    .from(release)
    .where(
      and(
        inArray(release.pieceId, [...pieceIds]),
        inArray(release.status, [...OPEN]),
        through === undefined ? undefined : eq(release.channel, through),
      ),
    )
    .for("update");

/** The open plan of a piece for a channel, locked; undefined where it has none. */
export async function openPlan(change: Change, pieceId: string, through: string): Promise<Plan | undefined> {
  const [plan] = await openPlans(change, [pieceId], through);
  return plan;
}

/** The editions a piece is in that are signed, or held, are looked at anew, each in a write of its own. */
export async function lookAtEditions({ tx, now }: Change, pieceId: string): Promise<void> {
  const signed = await tx
    .select({ id: edition.id })
    .from(editionItem)
    .innerJoin(edition, eq(edition.id, editionItem.editionId))
    .where(and(eq(editionItem.pieceId, pieceId), inArray(edition.status, ["signed", "held"])));
  for (const { id } of signed) await schedule(tx, { kind: "edition-look", subject: id, dueAt: now });
}

/**
 * Takes a piece out of the editions that are still being filled; one that was signed is held by it instead.
 *
 * @param why in a few words, for the record
 */
export async function leaveEditions(change: Change, pieceId: string, why: string): Promise<void> {
  const { tx } = change;
  await lookAtEditions(change, pieceId);
  const unsigned = and(eq(editionItem.pieceId, pieceId), isNull(editionItem.versionId));
  const filling = await tx
    .select({ id: edition.id, channel: edition.channel, number: edition.number, plan: channel.editions })
    .from(editionItem)
    .innerJoin(edition, eq(edition.id, editionItem.editionId))
    .innerJoin(channel, eq(channel.key, edition.channel))
    .where(and(unsigned, eq(edition.status, "gathering")));
  if (filling.length === 0) return;
  const ids = filling.map((one) => one.id);
  await tx.delete(editionItem).where(and(unsigned, inArray(editionItem.editionId, ids)));
  await tx
    .update(edition)
    .set({ revision: sql`${edition.revision} + 1` })
    .where(inArray(edition.id, ids));
  for (const { id, plan, ...one } of filling)
    change
      .apart()
      .happened(
        editionEmptied,
        { ...one, edition: plan ? editionName(plan, one.number) : String(one.number), why },
        { pieceId, subjectId: id },
      );
}

/** Ends whatever is still planned for pieces, on record. @param why in a few words; absent where somebody took it back */
export async function endPlans(
  change: Change,
  pieceIds: readonly string[],
  why?: string,
  through?: string,
): Promise<Plan[]> {
  const plans = await openPlans(change, pieceIds, through);
  if (plans.length === 0) return [];
  const ids = plans.map((plan) => plan.id);
  await change.tx.update(release).set({ status: "cancelled", holds: [] }).where(inArray(release.id, ids));
  await cancel(change.tx, "release", ids);
  for (const { id, pieceId, at, status } of plans)
    change.happened(releaseCancelled, { why }, { pieceId, subjectId: id, before: { at, status } });
  return plans;
}
