import { eq } from "drizzle-orm";
import { accept, type Result } from "#core/refusal.ts";
import { type Transition, transitionOf } from "#core/workflow/document.ts";
import { piece } from "../db/schema/index.ts";
import type { NoticeKind } from "../notices/deliver.ts";
import { travel } from "../passage/travel.ts";
import type { PieceFacts } from "../piece/facts.ts";
import type { Places } from "../sections/places.ts";
import type { Change } from "../write.ts";
import { callOpenSeats, closeRound, type OpenRound, outcomeOf } from "./rounds.ts";

const OUTCOMES = { passed: "approve", returned: "return", declined: "decline" } as const;

/**
 * Draws the consequence of what was last said or changed in a round: those whose turn it is are
 * called, or the round closes and the piece travels on.
 *
 * @returns the name of the step the piece took, or null while the round is open
 */
export async function conclude(
  change: Change,
  facts: PieceFacts,
  places: Places,
  round: OpenRound,
  last: { note: string; forId: string | null },
): Promise<Result<{ moved: string | null }>> {
  const outcome = outcomeOf(round);
  const review = facts.state.review;
  if (outcome.kind === "open" || !review) {
    await change.tx
      .update(piece)
      .set({ revision: facts.piece.revision + 1 })
      .where(eq(piece.id, facts.piece.id));
    await callOpenSeats(change, facts, round, places.calendar.timeZone);
    return accept({ moved: null });
  }

  await closeRound(change, round, outcome.kind);
  if (outcome.kind === "passed") {
    await change.tx.update(piece).set({ approvedVersionId: facts.version.id }).where(eq(piece.id, facts.piece.id));
    facts.piece.approvedVersionId = facts.version.id;
  }
  const transition = transitionOf(facts.workflow, review[OUTCOMES[outcome.kind]] as string) as Transition;
  const by = change.actor ? ` (${change.actor.name})` : "";
  const travelled = await travel(change, facts, places, {
    transition,
    note: last.note,
    forId: last.forId,
    authorNotice: announcement(outcome.kind, facts.piece.title, facts.state.name, by),
  });
  return travelled.ok ? accept({ moved: transition.name }) : travelled;
}

function announcement(
  outcome: keyof typeof OUTCOMES,
  title: string,
  state: string,
  by: string,
): { kind: NoticeKind; headline: string } {
  if (outcome === "passed") return { kind: "approved", headline: `“${title}” passed ${state}${by}` };
  if (outcome === "declined") return { kind: "returned", headline: `“${title}” was declined in ${state}${by}` };
  return { kind: "returned", headline: `“${title}” came back from ${state}${by}` };
}
