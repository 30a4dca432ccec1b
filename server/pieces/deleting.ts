import { and, desc, eq, inArray, isNotNull, isNull, or, type SQL } from "drizzle-orm";
import { z } from "zod";
import { can } from "#core/access/decide.ts";
import { pieceDeleted, pieceErased, pieceRestored } from "#core/events/pieces.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { lineage, pathName } from "#core/sections/tree.ts";
import { inReach } from "../access/visible.ts";
import { notGranted } from "../access/who.ts";
import type { Queryable } from "../db/client.ts";
import {
  attachment,
  comment,
  commission,
  decision,
  guestLink,
  intakeItem,
  ledger,
  ledgerTail,
  modelText,
  notice,
  outbox,
  person,
  piece,
  round,
  searchEntry,
  stay,
  thread,
  version,
} from "../db/schema/index.ts";
import { loadPiece } from "../piece/facts.ts";
import { letGo } from "../piece/holder.ts";
import { onPiece, text } from "../piece/input.ts";
import { NOT_FOUND, openBare } from "../piece/open.ts";
import { endPlans, leaveEditions } from "../release/plans.ts";
import { loadPlaces } from "../sections/places.ts";
import { cancel } from "../tasks/schedule.ts";
import type { Viewer } from "../viewer.ts";
import { type Act, type Change, write } from "../write.ts";

export const deleteInput = z.object({ ...onPiece, note: text("Say why it is deleted.", 4_000) });

/** Deletes a piece: it is hidden from everybody, and whoever may delete it may bring it back as it was, without its plan. */
export function deletePiece(act: Act, wanted: z.input<typeof deleteInput>): Promise<Result<null>> {
  return write(act, async (change) => {
    const opened = await openBare(change, wanted.pieceId, Number(wanted.revision));
    if (!opened.ok) return opened;
    const { facts, actor } = opened.value;
    const { tx, now } = change;
    if (!can(actor, "piece.delete", facts.target, now).allowed)
      return notGranted(tx, "piece.delete", facts.target, now, "No role of yours lets you delete this piece.");
    if (facts.piece.liveVersionId !== null)
      return refuse({ code: "live", sentence: "Readers see it. Withdraw it first." });
    await letGo(change, [facts.piece.id]);
    await endPlans(change, [facts.piece.id], "the piece was deleted");
    await leaveEditions(change, facts.piece.id, "it was deleted");
    await tx.update(piece).set({ deletedAt: now, deletedBy: actor.id }).where(eq(piece.id, facts.piece.id));
    const concerned = [...new Set([facts.piece.authorId, ...(facts.target.piece?.assigneeIds ?? [])])];
    change.happened(
      pieceDeleted,
      { note: wanted.note },
      {
        pieceId: facts.piece.id,
        before: { title: facts.piece.title, state: facts.piece.stateKey },
        tell: { concerned: concerned.map((to) => ({ to, params: { title: facts.piece.title } })) },
      },
    );
    return accept(null);
  });
}

/** A deleted piece, locked, for somebody who may delete where it is. */
async function openDeleted(change: Change, pieceId: string) {
  const { tx, actor, now } = change;
  const found = await loadPiece(
    tx,
    await loadPlaces(tx),
    and(eq(piece.id, pieceId), isNotNull(piece.deletedAt), isNull(piece.erasedAt)),
    true,
  );
  return found && actor && can(actor, "piece.delete", found.target, now).allowed ? { facts: found, actor } : null;
}

export const restoreInput = z.object({ pieceId: z.uuid() });

/** Brings a deleted piece back, where it was and with what was open in it. */
export function restorePiece(act: Act, wanted: z.input<typeof restoreInput>): Promise<Result<{ slug: string }>> {
  return write(act, async (change) => {
    const opened = await openDeleted(change, wanted.pieceId);
    if (!opened) return refuse(NOT_FOUND);
    const { piece: row } = opened.facts;
    await change.tx
      .update(piece)
      .set({ deletedAt: null, deletedBy: null, revision: row.revision + 1 })
      .where(eq(piece.id, row.id));
    change.happened(pieceRestored, {}, { pieceId: row.id, tell: { author: [row.authorId] } });
    return accept({ slug: row.slug });
  });
}

export const eraseInput = z.object({
  pieceId: z.uuid(),
  note: text("Say why it is erased: the reason is all that is left of it on record.", 4_000),
});

const ERASED = "Erased piece";

/**
 * Erases a deleted piece for good: what was written in it, said about it and told of it is gone, in
 * the record too. Its entries there keep their hashes, and the entry that says so holds them, so the
 * chain can still be followed.
 */
export function erasePiece(act: Act, wanted: z.input<typeof eraseInput>): Promise<Result<null>> {
  return write(act, async (change) => {
    const opened = await openDeleted(change, wanted.pieceId);
    if (!opened) return refuse(NOT_FOUND);
    const { facts, actor } = opened;
    const { tx, now } = change;
    if (!can(actor, "piece.erase", facts.target, now).allowed) {
      const sentence = "No role of yours lets you erase a piece for good.";
      return notGranted(tx, "piece.erase", facts.target, now, sentence);
    }
    const pieceId = facts.piece.id;
    const versions = await tx
      .select({ number: version.number, hash: version.hash })
      .from(version)
      .where(eq(version.pieceId, pieceId))
      .orderBy(version.number);
    await emptyWords(change, pieceId);
    await tx.update(piece).set({ erasedAt: now, title: ERASED }).where(eq(piece.id, pieceId));
    const entries = await emptyRecord(change, pieceId);
    change.happened(pieceErased, { note: wanted.note, versions, entries }, { pieceId });
    return accept(null);
  });
}

/** Takes the words out of everything a piece has; its rows and their order stay. */
async function emptyWords({ tx }: Change, pieceId: string): Promise<void> {
  const rounds = tx.select({ id: round.id }).from(round).where(eq(round.pieceId, pieceId));
  await tx
    .update(version)
    .set({ content: { title: "", fields: {} }, words: {}, name: null })
    .where(eq(version.pieceId, pieceId));
  await tx.update(decision).set({ note: "" }).where(inArray(decision.roundId, rounds));
  await tx.update(round).set({ note: "" }).where(eq(round.pieceId, pieceId));
  await tx.update(stay).set({ note: "" }).where(eq(stay.pieceId, pieceId));
  await tx.update(guestLink).set({ label: ERASED }).where(eq(guestLink.pieceId, pieceId));
  await tx.delete(commission).where(eq(commission.pieceId, pieceId));
  await tx.delete(modelText).where(eq(modelText.pieceId, pieceId));
  await tx.update(intakeItem).set({ title: ERASED, words: "", quote: null }).where(eq(intakeItem.aboutId, pieceId));
  await tx.delete(comment).where(eq(comment.pieceId, pieceId));
  await tx.delete(thread).where(eq(thread.pieceId, pieceId));
  await tx.delete(searchEntry).where(eq(searchEntry.pieceId, pieceId));
  await tx.delete(attachment).where(eq(attachment.pieceId, pieceId));
  const mail = await tx.select({ id: outbox.id }).from(outbox).where(eq(outbox.pieceId, pieceId));
  await cancel(
    tx,
    "mail",
    mail.map((one) => one.id),
  );
  await tx.delete(notice).where(eq(notice.pieceId, pieceId));
  await tx.delete(outbox).where(eq(outbox.pieceId, pieceId));
}

/** Empties what the record says of a piece. @returns the entries' numbers and the hashes they keep */
async function emptyRecord({ tx }: Change, pieceId: string): Promise<{ seq: number; hash: string }[]> {
  // The entry that erases is the only one of this write, so it comes next.
  const [tail] = await tx.select().from(ledgerTail).where(eq(ledgerTail.id, 1)).for("update");
  const entries = await tx
    .select({ seq: ledger.seq, hash: ledger.hash })
    .from(ledger)
    .where(eq(ledger.pieceId, pieceId))
    .orderBy(ledger.seq);
  await tx
    .update(ledger)
    .set({ before: null, after: null, erasedBy: (tail?.seq ?? 0) + 1 })
    .where(eq(ledger.pieceId, pieceId));
  return entries;
}

/** A deleted piece, as those see it who may bring it back. */
export interface DeletedRow {
  id: string;
  title: string;
  author: string;
  section: string;
  deletedAt: number;
  by: string | null;
  /** Why, in the words of who deleted it. */
  note: string;
  erasable: boolean;
}

const LISTED = 100;

/** The deleted pieces a viewer may bring back, the latest first. */
export async function listDeleted(db: Queryable, viewer: Viewer): Promise<DeletedRow[]> {
  const { places, now } = viewer;
  const reached = inReach(viewer, "piece.delete", places, now);
  const open = or(eq(piece.private, false), eq(piece.authorId, viewer.id)) as SQL;
  const rows = await db
    .select({ piece, author: person.name })
    .from(piece)
    .innerJoin(person, eq(person.id, piece.authorId))
    // Who deleted it has an index; when would be a poor one for everything that is not.
    .where(and(isNotNull(piece.deletedBy), isNull(piece.erasedAt), open, reached))
    .orderBy(desc(piece.deletedAt), desc(piece.id))
    .limit(LISTED);
  const ids = rows.map((row) => row.piece.id);
  if (ids.length === 0) return [];
  const entries = await db
    .select({ pieceId: ledger.pieceId, after: ledger.after, by: person.name })
    .from(ledger)
    .leftJoin(person, eq(person.id, ledger.actorId))
    .where(and(inArray(ledger.pieceId, ids), eq(ledger.action, pieceDeleted.name)))
    .orderBy(desc(ledger.seq));
  return rows.map(({ piece: row, author }) => {
    const entry = entries.find((one) => one.pieceId === row.id);
    const target = { sectionIds: lineage(places, row.sectionId).map((one) => one.id), kindId: row.kindId, piece: null };
    return {
      id: row.id,
      title: row.title,
      author,
      section: pathName(places, row.sectionId),
      deletedAt: row.deletedAt ?? 0,
      by: entry?.by ?? null,
      note: String((entry?.after as { note?: string } | null)?.note ?? ""),
      erasable: can(viewer, "piece.erase", target, now).allowed,
    };
  });
}
