import { and, eq, inArray, or } from "drizzle-orm";
import { releaseForeseen, releaseRebound } from "#core/events/release.ts";
import { accept } from "#core/refusal.ts";
import { type Hold, isOfRight, sameHolds } from "#core/release/preflight.ts";
import { loadHolder } from "../access/holders.ts";
import { piece, release } from "../db/schema/index.ts";
import { completed, loadPiece, type Piece, type PieceFacts } from "../piece/facts.ts";
import { loadPlaces } from "../sections/places.ts";
import { type Act, type Change, write } from "../write.ts";
import { departureStep, lastLook } from "./last-look.ts";
import { lookAtEditions, OPEN, openPlans, type Plan } from "./plans.ts";

/** Who is told what becomes of a plan: who planned and confirmed it, the author, and those who have the piece. */
export const ownersOfPlan = (plan: Plan, { piece, target }: Piece): string[] => [
  plan.plannedBy,
  ...(plan.confirmedBy ? [plan.confirmedBy] : []),
  piece.authorId,
  ...(target.piece?.assigneeIds ?? []),
];

/** What stands in the way of a plan as things are now. */
async function holdsOf(change: Change, facts: PieceFacts, plan: Plan): Promise<Hold[]> {
  const causedBy = await loadHolder(change.tx, plan.confirmedBy ?? plan.plannedBy);
  const step = departureStep(facts.workflow, facts.state.key) ?? null;
  const holds = await lastLook(change, facts, {
    causedBy: causedBy ? [causedBy] : [],
    step,
    plannedVersionId: plan.versionId,
    through: plan.channel,
    at: plan.at,
    outside: plan.outside,
    thorough: false,
  });
  // What is only proposed waits for somebody who may: that is no hold of its own.
  return plan.status === "proposed" ? holds.filter((hold) => !isOfRight(hold)) : holds;
}

/**
 * Looks ahead at the plans of a piece something was changed about: what would hold one is known now
 * and told now, not at its minute; what no longer holds disappears.
 */
export async function foresee(change: Change, facts: PieceFacts): Promise<void> {
  await lookAtEditions(change, facts.piece.id);
  for (const plan of await openPlans(change, [facts.piece.id])) await foreseeOne(change, facts, plan);
}

async function foreseeOne(change: Change, facts: PieceFacts, plan: Plan): Promise<void> {
  const found = await holdsOf(change, facts, plan);
  const passed = plan.status === "held" && found.length === 0;
  const holds: Hold[] = passed ? [{ code: "time-passed" }] : found;
  if (sameHolds(holds, plan.holds)) return;
  await change.tx.update(release).set({ holds }).where(eq(release.id, plan.id));
  change.happened(
    releaseForeseen,
    { at: plan.at, holds: found },
    { pieceId: facts.piece.id, subjectId: plan.id, before: plan.holds, tell: { owners: ownersOfPlan(plan, facts) } },
  );
}

/** Looks ahead for a piece that was opened without its text, where it has a plan at all. */
export async function foreseePiece(change: Change, facts: Piece): Promise<void> {
  const plans = await openPlans(change, [facts.piece.id]);
  if (plans.length > 0) await foresee(change, await completed(change.tx, facts));
  else await lookAtEditions(change, facts.piece.id);
}

/** Releases that were planned go out with the version approved last, on record. */
export async function rebindPlan(change: Change, { piece, version }: PieceFacts): Promise<void> {
  const plans = await openPlans(change, [piece.id]);
  for (const plan of plans.filter((one) => one.versionId !== version.id)) {
    await change.tx.update(release).set({ versionId: version.id }).where(eq(release.id, plan.id));
    change.happened(
      releaseRebound,
      { at: plan.at, version: version.number },
      { pieceId: piece.id, subjectId: plan.id, before: { versionId: plan.versionId } },
    );
  }
}

/** Looks ahead at every open plan somebody answers for, each in a write of its own: what they may do has changed. */
export async function foreseeOfPlanner(act: Act, personId: string): Promise<void> {
  const plans = await act.db
    .select({ pieceId: release.pieceId })
    .from(release)
    .where(
      and(inArray(release.status, [...OPEN]), or(eq(release.plannedBy, personId), eq(release.confirmedBy, personId))),
    );
  for (const { pieceId } of plans)
    await write(act, async (change) => {
      const places = await loadPlaces(change.tx);
      const facts = await loadPiece(change.tx, places, eq(piece.id, pieceId), true);
      if (facts) await foreseePiece(change, facts);
      return accept(null);
    });
}
