import { eq } from "drizzle-orm";
import { accept, type Result, refuse } from "#core/refusal.ts";
import type { Verdict } from "#core/review/round.ts";
import { type Transition, transitionOf } from "#core/workflow/document.ts";
import { newId } from "../db/schema/columns.ts";
import { decision, person, piece, seat } from "../db/schema/index.ts";
import type { NoticeKind } from "../notices/deliver.ts";
import { openPiece } from "../pieces/open.ts";
import { travel } from "../pieces/passage.ts";
import { type Act, write } from "../write.ts";
import { callOpenSeats, closeRound, loadOpenRound, outcomeOf } from "./rounds.ts";

export interface Decide {
  pieceId: string;
  /** The hash of the version the reviewer read. */
  versionHash: string;
  verdict: Verdict;
  note: string;
}

const OUTCOMES = { passed: "approve", returned: "return", declined: "decline" } as const;

/**
 * A reviewer decides on the version they read. The piece's row is locked meanwhile, so of two
 * votes that would both close the round exactly one does.
 */
export function decide(act: Act, wanted: Decide): Promise<Result<{ moved: string | null }>> {
  return write<{ moved: string | null }>(act, async (change) => {
    const opened = await openPiece(change, wanted.pieceId);
    if (!opened.ok) return opened;
    const { facts, places, actor } = opened.value;
    const review = facts.state.review;
    const current = await loadOpenRound(change.tx, facts.piece.id);
    if (!review || !current)
      return refuse({
        code: "round-closed",
        sentence: `No review of this piece is open; it is in ${facts.state.name}.`,
      });
    const seats = current.seats.filter((one) => one.personId === actor.id);
    const place = seats.find((one) => one.status === "open" || one.status === "decided");
    if (!place) {
      const names = await change.tx
        .select({ name: person.name })
        .from(seat)
        .innerJoin(person, eq(person.id, seat.personId))
        .where(eq(seat.roundId, current.row.id));
      const [own] = seats;
      const sentence = own?.voidReason
        ? `Your seat does not count: ${own.voidReason}.`
        : own
          ? "It is not your turn yet: this review goes in order."
          : "You have no seat in this review.";
      return refuse({ code: "no-seat", sentence, who: names.map((one) => one.name) });
    }
    if (wanted.versionHash !== facts.version.hash) {
      return refuse({
        code: "stale",
        sentence: `The text is now version ${facts.version.number}. Read what changed, then decide; your note is kept.`,
      });
    }
    if (wanted.verdict === "decline" && !review.decline)
      return refuse({ code: "no-decline", sentence: `${facts.state.name} offers no declining.` });
    if ((wanted.verdict === "return" || wanted.verdict === "decline") && wanted.note.trim() === "") {
      return refuse({
        code: "note-missing",
        field: "note",
        sentence: "Say why: the writer is told at once, with this note.",
      });
    }

    const made = {
      id: newId(),
      roundId: current.row.id,
      seatId: place.id,
      personId: actor.id,
      forPersonId: place.forPersonId,
      verdict: wanted.verdict,
      versionId: facts.version.id,
      note: wanted.note,
      at: change.now,
    };
    await change.tx.insert(decision).values(made);
    await change.tx.update(seat).set({ status: "decided" }).where(eq(seat.id, place.id));
    change.record({
      action: "review.decided",
      pieceId: facts.piece.id,
      subjectId: made.id,
      forId: place.forPersonId,
      after: {
        verdict: wanted.verdict,
        note: wanted.note,
        state: facts.state.name,
        version: facts.version.number,
        hash: facts.version.hash,
      },
    });
    const seatsNow = current.seats.map((one) => (one.id === place.id ? { ...one, status: "decided" as const } : one));
    const round = { ...current, seats: seatsNow, decisions: [...current.decisions, made] };
    const outcome = outcomeOf(round);
    if (outcome.kind === "open") {
      await change.tx
        .update(piece)
        .set({ revision: facts.piece.revision + 1 })
        .where(eq(piece.id, facts.piece.id));
      await callOpenSeats(change, facts, round, places.calendar.timeZone);
      return accept({ moved: null });
    }

    await closeRound(change, current, outcome.kind);
    if (outcome.kind === "passed") {
      await change.tx.update(piece).set({ approvedVersionId: facts.version.id }).where(eq(piece.id, facts.piece.id));
      facts.piece.approvedVersionId = facts.version.id;
    }
    const transition = transitionOf(facts.workflow, review[OUTCOMES[outcome.kind]] as string) as Transition;
    const travelled = await travel(change, facts, places, {
      transition,
      note: wanted.note,
      forId: place.forPersonId,
      authorNotice: announcement(outcome.kind, facts.piece.title, facts.state.name, actor.name),
    });
    return travelled.ok ? accept({ moved: transition.name }) : travelled;
  });
}

function announcement(
  outcome: keyof typeof OUTCOMES,
  title: string,
  state: string,
  who: string,
): { kind: NoticeKind; headline: string } {
  if (outcome === "passed") return { kind: "approved", headline: `“${title}” passed ${state} (${who})` };
  if (outcome === "declined") return { kind: "returned", headline: `“${title}” was declined in ${state} (${who})` };
  return { kind: "returned", headline: `“${title}” came back from ${state} (${who})` };
}
