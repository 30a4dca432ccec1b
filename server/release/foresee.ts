import { and, eq, inArray, or } from "drizzle-orm";
import { releaseForeseen, releaseRebound, releaseResumed } from "#core/events/release.ts";
import { accept } from "#core/refusal.ts";
import { type Hold, isOfRight, sameHolds } from "#core/release/preflight.ts";
import { loadHolder } from "../access/holders.ts";
import { piece, release } from "../db/schema/index.ts";
import { completed, loadPiece, type Piece, type PieceFacts } from "../piece/facts.ts";
import { loadPlaces } from "../sections/places.ts";
import { schedule } from "../tasks/schedule.ts";
import { type Act, type Change, write } from "../write.ts";
import { leavesAt, loadChannel } from "./channels.ts";
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
    at: Math.max(plan.at, change.now),
    outside: plan.outside,
    // What is held gets another time, by the windows.
    windowless: plan.status === "held",
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
  const holds = await holdsOf(change, facts, plan);
  if (plan.status === "held" && holds.length === 0) return resume(change, facts, plan);
  // One that is only planned is asked at its own time.
  if (plan.status === "held") await askAfterEmbargo(change, facts, plan, holds);
  if (sameHolds(holds, plan.holds)) return;
  await change.tx.update(release).set({ holds }).where(eq(release.id, plan.id));
  change.happened(
    releaseForeseen,
    { at: plan.at, holds },
    { pieceId: facts.piece.id, subjectId: plan.id, before: plan.holds, tell: { owners: ownersOfPlan(plan, facts) } },
  );
}

/** Lets a held release that nothing holds any more go: at once, or when its channel opens next. */
async function resume(change: Change, facts: PieceFacts, plan: Plan): Promise<void> {
  const { tx, now } = change;
  const channel = await loadChannel(tx, plan.channel);
  const at = plan.outside ? now : await leavesAt(tx, channel, now, plan.id);
  if (at === null) return;
  await tx.update(release).set({ status: "planned", at, holds: [] }).where(eq(release.id, plan.id));
  await schedule(tx, { kind: "release", subject: plan.id, dueAt: at });
  // Beside what was done to let it go, which those concerned hear of too.
  change.apart().happened(
    releaseResumed,
    { at },
    {
      pieceId: facts.piece.id,
      subjectId: plan.id,
      before: { at: plan.at, holds: plan.holds },
      tell: { owners: ownersOfPlan(plan, facts) },
    },
  );
}

/** An embargo runs out without anybody doing anything: what it holds is asked again then. */
export async function askAfterEmbargo(
  { tx }: Change,
  { piece: row }: Pick<PieceFacts, "piece">,
  plan: Plan,
  holds: readonly Hold[],
): Promise<void> {
  if (row.embargoUntil !== null && holds.some((hold) => hold.code === "embargo"))
    await schedule(tx, { kind: "release", subject: plan.id, dueAt: row.embargoUntil });
}

/** Asks again what holds some releases, whose embargo has run out meanwhile. Their pieces are locked. */
export async function askAgain(change: Change, facts: readonly PieceFacts[], held: readonly Plan[]): Promise<void> {
  for (const plan of held) {
    const of = facts.find((one) => one.piece.id === plan.pieceId);
    if (of) await foreseeOne(change.apart(), of, plan);
  }
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
