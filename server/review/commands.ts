import { eq } from "drizzle-orm";
import { can } from "#core/access/decide.ts";
import { type Result, refuse } from "#core/refusal.ts";
import type { Verdict } from "#core/review/round.ts";
import { loadHolder } from "../access/holders.ts";
import { newId } from "../db/schema/columns.ts";
import { decision, person, seat } from "../db/schema/index.ts";
import { openPiece } from "../piece/open.ts";
import { type Act, write } from "../write.ts";
import { conclude } from "./conclude.ts";
import { loadOpenRound } from "./rounds.ts";

export interface Decide {
  pieceId: string;
  /** The hash of the version the reviewer read. */
  versionHash: string;
  verdict: Verdict;
  note: string;
}

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
    const decides = [actor, place.forPersonId && (await loadHolder(change.tx, place.forPersonId))];
    if (!decides.some((who) => who && can(who, "review.decide", facts.target, change.now).allowed))
      return refuse({ code: "not-granted", sentence: "No grant of yours lets you decide in a review here." });
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
    return conclude(change, facts, places, round, { note: wanted.note, forId: place.forPersonId });
  });
}
