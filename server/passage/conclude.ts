import { eq, sql } from "drizzle-orm";
import { accept, type Result } from "#core/refusal.ts";
import { outcomeStep } from "#core/review/deciding.ts";
import { loadHolder } from "../access/holders.ts";
import { piece } from "../db/schema/index.ts";
import type { PieceFacts } from "../piece/facts.ts";
import { callOpenSeats, judged, type OpenRound, type SeatRow } from "../review/rounds.ts";
import type { Places } from "../sections/places.ts";
import type { Change } from "../write.ts";
import { travel } from "./travel.ts";

/** What came with what was last said or changed in a round. */
interface Last {
  note: string;
  forId: string | null;
  /** Whom the deciding reviewer picked for the next review; null lets the least busy sit. */
  chosen: readonly string[] | null;
  dueAt: number | null;
}

/**
 * Draws the consequence of what was last said or changed in a round: those whose turn it is are
 * called, or the round closes and the piece travels on.
 *
 * @returns the name of the step the piece took, or null and who is called now
 */
export async function conclude(
  change: Change,
  facts: PieceFacts,
  places: Places,
  round: OpenRound,
  last: Last,
): Promise<Result<{ moved: string | null; called: SeatRow[] }>> {
  const outcome = judged(round);
  const { review } = facts.state;
  const step = review && outcomeStep(facts.workflow, review, outcome);
  if (outcome.kind === "open" || !step) {
    await change.tx
      .update(piece)
      .set({ revision: sql`${piece.revision} + 1` })
      .where(eq(piece.id, facts.piece.id));
    return accept({ moved: null, called: await callOpenSeats(change, facts, round) });
  }
  if (outcome.kind === "passed") await approve(change, facts);
  const decidedBy = round.decisions.findLast((said) => said.seatId === outcome.decidedBy)?.personId;
  const travelled = await travel(change, facts, places, {
    transition: step,
    note: last.note,
    forId: last.forId,
    chosen: last.chosen,
    dueAt: last.dueAt,
    outcome: outcome.kind,
    cause: change.actor ?? (decidedBy ? await loadHolder(change.tx, decidedBy) : null),
    sent: false,
  });
  return travelled.ok ? accept({ moved: step.name, called: [] }) : travelled;
}

/** What a review passed is approved: exactly these words. */
export async function approve({ tx }: Change, facts: PieceFacts): Promise<void> {
  await tx.update(piece).set({ approvedVersionId: facts.version.id }).where(eq(piece.id, facts.piece.id));
  facts.piece.approvedVersionId = facts.version.id;
}
