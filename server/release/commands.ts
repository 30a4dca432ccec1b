import { and, eq, inArray } from "drizzle-orm";
import { can } from "#core/access/decide.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { sayInstant } from "#core/time/words.ts";
import type { Transition, Workflow } from "#core/workflow/document.ts";
import { restingPlace } from "#core/workflow/moves.ts";
import { loadHolder } from "../access/holders.ts";
import { newId } from "../db/schema/columns.ts";
import { piece, release } from "../db/schema/index.ts";
import { travel } from "../passage/travel.ts";
import { loadFacts, named } from "../piece/facts.ts";
import { openPiece } from "../piece/open.ts";
import { loadPlaces } from "../sections/places.ts";
import { type Act, write } from "../write.ts";
import { holdsAt } from "./last-look.ts";

/** The step by which a piece goes from a state out to readers, or undefined. */
export function departureStep(workflow: Workflow, stateKey: string): Transition | undefined {
  return workflow.transitions.find(
    (step) => step.from.includes(stateKey) && restingPlace(workflow, step.to).state.kind === "live",
  );
}

/** Plans when a ready piece reaches readers; a plan it already has, kept or held, is moved. */
export function planRelease(
  act: Act,
  plan: { pieceId: string; revision: number; at: number },
): Promise<Result<{ id: string }>> {
  return write(act, async (change) => {
    const opened = await openPiece(change, plan.pieceId, plan.revision);
    if (!opened.ok) return opened;
    const { facts, actor, places } = opened.value;
    if (!can(actor, "piece.schedule", facts.target, change.now).allowed) {
      return refuse({ code: "not-granted", sentence: "No grant of yours lets you plan releases here." });
    }
    if (plan.at <= change.now) return refuse({ code: "past", field: "at", sentence: "The release lies in the past." });
    if (facts.state.kind !== "ready") {
      return refuse({
        code: "not-ready",
        sentence: `It is in ${facts.state.name}. A release is planned once the piece is approved.`,
      });
    }
    if (!departureStep(facts.workflow, facts.state.key)) {
      return refuse({
        code: "no-such-move",
        sentence: `Its workflow has no step from ${facts.state.name} to readers.`,
      });
    }
    const { tx } = change;
    const [earlier] = await tx
      .select()
      .from(release)
      .where(and(eq(release.pieceId, facts.piece.id), inArray(release.status, ["planned", "held"])))
      .for("update");
    const row = {
      at: plan.at,
      status: "planned" as const,
      holds: [],
      versionId: facts.version.id,
      plannedBy: actor.id,
      leaseOwner: null,
      leaseUntil: null,
    };
    const id = earlier?.id ?? newId();
    if (earlier) await tx.update(release).set(row).where(eq(release.id, id));
    else await tx.insert(release).values({ id, pieceId: facts.piece.id, ...row });
    await tx
      .update(piece)
      .set({ publishAt: plan.at, revision: facts.piece.revision + 1 })
      .where(eq(piece.id, facts.piece.id));
    change.record({
      action: "release.planned",
      pieceId: facts.piece.id,
      subjectId: id,
      before: earlier ? { at: earlier.at, status: earlier.status } : null,
      after: { at: plan.at, version: facts.version.number, hash: facts.version.hash },
    });
    const when = sayInstant(plan.at, places.calendar.timeZone, change.now);
    change.tell({
      to: [facts.piece.authorId],
      kind: "arrived",
      headline: `“${facts.piece.title}” goes live ${when}`,
      piece: named(facts),
    });
    return accept({ id });
  });
}

/** Takes a plan back; the piece stays where it is. */
export function cancelRelease(act: Act, order: { pieceId: string; revision: number }): Promise<Result<null>> {
  return write(act, async (change) => {
    const opened = await openPiece(change, order.pieceId, order.revision);
    if (!opened.ok) return opened;
    const { facts, actor } = opened.value;
    if (!can(actor, "piece.schedule", facts.target, change.now).allowed) {
      return refuse({ code: "not-granted", sentence: "No grant of yours lets you plan releases here." });
    }
    const { tx } = change;
    const [plan] = await tx
      .select()
      .from(release)
      .where(and(eq(release.pieceId, facts.piece.id), inArray(release.status, ["planned", "held"])))
      .for("update");
    if (!plan) return refuse({ code: "no-plan", sentence: "No release is planned for this piece." });
    await tx
      .update(release)
      .set({ status: "cancelled", leaseOwner: null, leaseUntil: null })
      .where(eq(release.id, plan.id));
    await tx
      .update(piece)
      .set({ revision: facts.piece.revision + 1 })
      .where(eq(piece.id, facts.piece.id));
    change.record({
      action: "release.cancelled",
      pieceId: facts.piece.id,
      subjectId: plan.id,
      before: { at: plan.at, status: plan.status },
    });
    return accept(null);
  });
}

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

    const planner = await loadHolder(tx, plan.plannedBy);
    const mayRelease = planner !== null && can(planner, "piece.schedule", facts.target, now).allowed;
    const holds = await holdsAt(change, facts, plan.versionId, mayRelease);
    const step = departureStep(facts.workflow, facts.state.key);
    if (holds.length === 0 && !step)
      holds.push({ code: "not-ready", sentence: `Its workflow has no step from ${facts.state.name} to readers.` });
    if (holds.length > 0 || !step) {
      await tx
        .update(release)
        .set({ status: "held", holds, leaseOwner: null, leaseUntil: null })
        .where(eq(release.id, plan.id));
      change.record({
        action: "release.held",
        pieceId: facts.piece.id,
        subjectId: plan.id,
        after: { at: plan.at, holds },
      });
      const why = holds.map((hold) => hold.sentence).join(" ");
      change.tell({
        to: [plan.plannedBy, facts.piece.authorId],
        kind: "held",
        headline: `The release of “${facts.piece.title}” is held`,
        note: why,
        piece: named(facts),
      });
      return accept("held" as const);
    }
    await tx
      .update(release)
      .set({ status: "done", doneAt: now, leaseOwner: null, leaseUntil: null })
      .where(eq(release.id, plan.id));
    const travelled = await travel(change, facts, places, { transition: step, note: "" });
    return travelled.ok ? accept("done" as const) : travelled;
  });
}
