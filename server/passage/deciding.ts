import { and, desc, eq, isNotNull, isNull } from "drizzle-orm";
import { z } from "zod";
import { reviewDecided, signaturesWithdrawn } from "#core/events/review.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { decide as judgeDecision } from "#core/review/deciding.ts";
import { newId } from "../db/schema/columns.ts";
import { decision, seat, version } from "../db/schema/index.ts";
import { type PieceFacts, standingOf } from "../piece/facts.ts";
import { note } from "../piece/input.ts";
import { openPiece } from "../piece/open.ts";
import { send } from "../remarks/commands.ts";
import { loadOpenRound, type OpenRound, recipients } from "../review/rounds.ts";
import { tableOf } from "../review/table.ts";
import { type Act, type Change, write } from "../write.ts";
import { conclude } from "./conclude.ts";
import { refusePast } from "./dates.ts";

export const decideInput = z.object({
  pieceId: z.uuid(),
  /** The hash of the version the reviewer read. */
  versionHash: z.string().max(64),
  verdict: z.enum(["approve", "return", "decline", "abstain"]),
  note,
  /** Whom they pick, and until when, where the next review asks for it. */
  reviewers: z.array(z.uuid()).max(50).default([]),
  dueAt: z.number().nullable().default(null),
  /** Whether what they kept back is sent along. */
  sends: z.stringbool().default(false),
  /** In a sign-off: their name, as they type it. */
  signature: z.string().max(120).default(""),
});

type Wanted = Omit<z.input<typeof decideInput>, "sends"> & { sends?: boolean };

/**
 * A reviewer decides on the version they read. The piece's row is locked meanwhile, so of two
 * votes that would both close the round exactly one does.
 */
export function decide(act: Act, wanted: Wanted): Promise<Result<{ moved: string | null }>> {
  return write<{ moved: string | null }>(act, async (change) => {
    const opened = await openPiece(change, wanted.pieceId);
    if (!opened.ok) return opened;
    const { places, actor } = opened.value;
    // What is sent along is open like any other remark when the step is judged.
    const sent = wanted.sends ? await send(change, opened.value, null) : 0;
    const facts = { ...opened.value.facts, openComments: opened.value.facts.openComments + sent };
    const { verdict, note = "", reviewers = [], dueAt = null } = wanted;
    const current = await loadOpenRound(change.tx, facts.piece.id);
    const table = await tableOf(change.tx, facts, current, [actor], change.now);
    const said = { verdict, note, publishAt: facts.piece.publishAt, signature: wanted.signature ?? "" };
    const judgedNow = judgeDecision(table, standingOf(facts, actor, change.now), actor.id, said);
    if (!judgedNow.ok) return judgedNow;
    if (wanted.versionHash !== facts.version.hash) {
      const [read] = await change.tx
        .select({ number: version.number })
        .from(version)
        .where(and(eq(version.pieceId, facts.piece.id), eq(version.hash, wanted.versionHash)))
        .orderBy(desc(version.number))
        .limit(1);
      return refuse({
        code: "stale",
        sentence: `The text is now version ${facts.version.number}. Read what changed, then decide; your note is kept.`,
        ...(read && { changed: { from: read.number, to: facts.version.number } }),
      });
    }
    const past = refusePast({ dueAt, publishAt: null }, change.now);
    if (past) return refuse(past);
    const { place, move } = judgedNow.value;
    const round = current as OpenRound;
    const signs = facts.state.review?.signed === true && verdict === "approve";
    const made = {
      id: newId(),
      roundId: round.row.id,
      seatId: place.id,
      personId: actor.id,
      forPersonId: place.forPersonId,
      verdict,
      versionId: facts.version.id,
      note,
      at: change.now,
      signature: signs ? said.signature.trim() : null,
      signedHash: signs ? facts.version.hash : null,
      withdrawnAt: null,
    };
    await change.tx.insert(decision).values(made);
    await change.tx.update(seat).set({ status: "decided" }).where(eq(seat.id, place.id));
    const seats = round.seats.map((one) => (one.id === place.id ? { ...one, status: "decided" as const } : one));
    const decisions = [...round.decisions, { ...made, boundHash: facts.version.boundHash }];
    const { number, hash } = facts.version;
    const signature = made.signature === null ? {} : { signature: made.signature };
    const kept = {
      verdict,
      note,
      state: facts.state.name,
      version: number,
      hash,
      dueAt: round.row.dueAt,
      ...signature,
    };
    const about = { pieceId: facts.piece.id, subjectId: made.id, forId: place.forPersonId };
    const moves = move !== null;
    // What was said stands on record before what follows from it; whose turn comes is known only after.
    if (moves) change.happened(reviewDecided, kept, about);
    if (facts.state.review?.signed && verdict !== "approve" && moves) await withdrawSignatures(change, facts, round);
    const concluded = await conclude(
      change,
      facts,
      places,
      { ...round, seats, decisions },
      { note, forId: place.forPersonId, chosen: move && move.choose.length > 0 ? reviewers : null, dueAt },
    );
    if (!concluded.ok) return concluded;
    const { moved, called } = concluded.value;
    if (!moves) change.happened(reviewDecided, kept, { ...about, tell: { called: recipients(called) } });
    return accept({ moved });
  });
}

/** One refusal reopens a text: the other signatures are taken back, stay on record, and each signer is told. */
async function withdrawSignatures(change: Change, { piece, state }: PieceFacts, { row }: OpenRound): Promise<void> {
  const standing = and(eq(decision.roundId, row.id), isNotNull(decision.signature), isNull(decision.withdrawnAt));
  const signed = await change.tx.select({ personId: decision.personId }).from(decision).where(standing);
  if (signed.length === 0) return;
  await change.tx.update(decision).set({ withdrawnAt: change.now }).where(standing);
  const signers = [...new Set(signed.map(({ personId }) => personId))];
  // Each hears of it, also who is asked to decide anew in the same write.
  change
    .apart()
    .happened(
      signaturesWithdrawn,
      { state: state.name, signatures: signed.length },
      { pieceId: piece.id, subjectId: row.id, tell: { signers } },
    );
}
