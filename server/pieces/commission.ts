import { and, eq, isNull } from "drizzle-orm";
import { z } from "zod";
import { can } from "#core/access/decide.ts";
import type { Permission } from "#core/access/permissions.ts";
import { commissionReturned, commissionTaken, pieceCommissioned } from "#core/events/commissions.ts";
import { accept, type Refusal, type Result, refuse } from "#core/refusal.ts";
import { lineage } from "#core/sections/tree.ts";
import { localDate } from "#core/time/local.ts";
import type { Person } from "../access/holders.ts";
import { colleague, notGranted } from "../access/who.ts";
import type { Queryable } from "../db/client.ts";
import { commission, person, piece } from "../db/schema/index.ts";
import { onPiece, text } from "../piece/input.ts";
import { openBare } from "../piece/open.ts";
import { loadsSeen, teamOf } from "../team/queries.ts";
import type { Viewer } from "../viewer.ts";
import { type Act, type Change, write } from "../write.ts";
import { beginnings } from "./beginning.ts";

/** Whom a new piece is for, and what they are asked to write. */
export interface Commission {
  writerId: string;
  brief: string;
}

/** So long a brief is at most, in characters. */
export const BRIEF_MOST = 4_000;

/** Why somebody cannot be asked to write a piece in a place, or who that is. */
export async function writerFor(
  change: Change,
  { writerId }: Commission,
  target: Parameters<typeof can>[2],
): Promise<Result<{ id: string; name: string }>> {
  const { tx, now, actor } = change;
  if (!actor || !can(actor, "piece.route", target, now).allowed) {
    const sentence = "No role of yours lets you ask others to write here.";
    return notGranted(tx, "piece.route", target, now, sentence, { field: "writerId" });
  }
  const field = "writerId";
  const found = await colleague(tx, writerId, field);
  if (!found.ok) return found;
  const writer = found.value;
  if (!can(writer, "piece.create", target, now).allowed)
    return refuse({ code: "unable", field, sentence: `${writer.name} holds no role that lets them write here.` });
  return accept(writer);
}

/**
 * Notes what a piece is asked for, and tells who writes it.
 *
 * @param writer null where whoever begins it writes it too, and need not be asked
 */
export async function layCommission(
  change: Change,
  pieceId: string,
  writer: { id: string; name: string } | null,
  { brief, dueAt }: { brief: string; dueAt: number | null },
): Promise<void> {
  const { tx, now, actor } = change;
  if (!actor) return;
  const takenAt = writer === null ? now : null;
  await tx.insert(commission).values({ pieceId, byId: actor.id, brief, at: now, takenAt });
  if (writer)
    change.happened(
      pieceCommissioned,
      { person: writer.name, brief, dueAt },
      { pieceId, tell: { writer: [writer.id] } },
    );
}

export const takeInput = z.object(onPiece);

/** Whoever was asked to write a piece says that they do. */
export const takeCommission = (act: Act, wanted: z.output<typeof takeInput>): Promise<Result<null>> =>
  asAsked(act, wanted, async (change, { byId }) => {
    await change.tx.update(commission).set({ takenAt: change.now }).where(eq(commission.pieceId, wanted.pieceId));
    change.happened(commissionTaken, {}, { pieceId: wanted.pieceId, tell: { asker: [byId] } });
    return accept(null);
  });

export const handBackInput = z.object({ ...onPiece, note: text("Say why you hand it back.", 4_000) });

/** Whoever was asked to write a piece hands it back, with the reason; it is with who asked then. */
export const handBack = (act: Act, wanted: z.output<typeof handBackInput>): Promise<Result<null>> =>
  asAsked(act, wanted, async (change, { byId, by }) => {
    const { pieceId, note } = wanted;
    await change.tx.delete(commission).where(eq(commission.pieceId, pieceId));
    await change.tx.update(piece).set({ authorId: byId }).where(eq(piece.id, pieceId));
    change.happened(commissionReturned, { person: by, note }, { pieceId, tell: { asker: [byId] } });
    return accept(null);
  });

const NOT_ASKED: Refusal = { code: "not-asked", sentence: "Nobody waits for your answer to that any more." };

/** A write of who was asked to write a piece and has not said whether they do. */
function asAsked(
  act: Act,
  { pieceId, revision }: z.output<typeof takeInput>,
  work: (change: Change, asked: { byId: string; by: string }) => Promise<Result<null>>,
): Promise<Result<null>> {
  return write(act, async (change) => {
    const opened = await openBare(change, pieceId, revision);
    if (!opened.ok) return opened;
    const { facts, actor } = opened.value;
    if (facts.piece.authorId !== actor.id)
      return refuse({ code: "not-granted", sentence: "It is not you who was asked to write this." });
    const [row] = await change.tx
      .select({ byId: commission.byId, by: person.name })
      .from(commission)
      .innerJoin(person, eq(person.id, commission.byId))
      .where(and(eq(commission.pieceId, pieceId), isNull(commission.takenAt)));
    if (!row) return refuse(NOT_ASKED);
    const done = await work(change, row);
    if (done.ok)
      await change.tx
        .update(piece)
        .set({ revision: facts.piece.revision + 1 })
        .where(eq(piece.id, pieceId));
    return done;
  });
}

/** What a piece was asked for, and by whom; null where nobody asked. */
export async function commissionOf(db: Queryable, pieceId: string) {
  const [row] = await db
    .select({ by: person.name, brief: commission.brief, takenAt: commission.takenAt })
    .from(commission)
    .innerJoin(person, eq(person.id, commission.byId))
    .where(eq(commission.pieceId, pieceId));
  return row ?? null;
}

/** Whom a viewer may ask to write, the least busy first, with what they have and whether they are away; none where they may ask nobody. */
export async function writersFor(db: Queryable, viewer: Viewer) {
  const { sections, kinds } = beginnings(viewer);
  const may = (who: Person, permission: Permission) =>
    sections.some(({ id }) => {
      const sectionIds = lineage(viewer.places, id).map((one) => one.id);
      return kinds.some(
        (kind) => can(who, permission, { sectionIds, kindId: kind.id, piece: null }, viewer.now).allowed,
      );
    });
  if (!may(viewer, "piece.route")) return [];
  const today = localDate(viewer.now, viewer.calendar.timeZone);
  const team = teamOf(viewer.roster, today, await loadsSeen(db, viewer));
  return [...team.people.values()]
    .filter((one) => one.active && !one.guest && one.id !== viewer.id && may(one, "piece.create"))
    .map((one) => ({ id: one.id, name: one.name, load: team.load(one.id), away: team.away.has(one.id) }))
    .sort((a, b) => Number(a.away) - Number(b.away) || a.load - b.load || a.name.localeCompare(b.name));
}
