import { eq } from "drizzle-orm";
import { releaseHeld } from "#core/events/release.ts";
import { accept, type Result } from "#core/refusal.ts";
import { loadHolder } from "../access/holders.ts";
import { piece, release } from "../db/schema/index.ts";
import { loadFacts } from "../piece/facts.ts";
import { holdsOf, ownersOfPlan } from "../release/foresee.ts";
import { departureStep } from "../release/last-look.ts";
import { loadPlaces } from "../sections/places.ts";
import { type Act, write } from "../write.ts";
import { travel } from "./travel.ts";

/**
 * Carries out a planned release: looks at everything again, then takes the piece out, or holds the
 * release with its reasons and tells its owners. Runs for the job, with no actor.
 *
 * @returns what became of it; `gone` when another node was faster or the plan was taken back
 */
export function carryOut(act: Act, releaseId: string): Promise<Result<"done" | "held" | "gone">> {
  return write(act, async (change) => {
    const { tx, now } = change;
    const [peek] = await tx.select({ pieceId: release.pieceId }).from(release).where(eq(release.id, releaseId));
    const places = await loadPlaces(tx);
    const facts = peek && (await loadFacts(tx, places, eq(piece.id, peek.pieceId), true));
    const [plan] = await tx.select().from(release).where(eq(release.id, releaseId)).for("update");
    if (!plan || !facts || plan.status !== "planned" || plan.at > now) return accept("gone" as const);
    const holds = await holdsOf(change, facts, plan, true);
    const step = departureStep(facts.workflow, facts.state.key);
    if (holds.length > 0 || !step) {
      await tx.update(release).set({ status: "held", holds }).where(eq(release.id, plan.id));
      change.happened(
        releaseHeld,
        { at: plan.at, holds },
        { pieceId: facts.piece.id, subjectId: plan.id, tell: { owners: ownersOfPlan(plan, facts) } },
      );
      return accept("held" as const);
    }
    await tx.update(release).set({ status: "done", doneAt: now, holds: [] }).where(eq(release.id, plan.id));
    const cause = await loadHolder(tx, plan.confirmedBy ?? plan.plannedBy);
    const way = { transition: step, note: "", chosen: null, cause, sent: false, looked: true as const };
    const travelled = await travel(change, facts, places, way);
    return travelled.ok ? accept("done" as const) : travelled;
  });
}
