import { and, eq, inArray, ne, sql } from "drizzle-orm";
import { z } from "zod";
import { editionDropped, editionEmptied, editionFilled, editionMoved, editionOrdered } from "#core/events/editions.ts";
import { accept, type Refusal, type Result, refuse } from "#core/refusal.ts";
import { moved, partFor } from "#core/release/edition.ts";
import { sayHold } from "#core/release/preflight.ts";
import { opens } from "#core/release/window.ts";
import { edition, editionItem, editionSignature, piece } from "../db/schema/index.ts";
import type { Piece } from "../piece/facts.ts";
import { text } from "../piece/input.ts";
import { NOT_FOUND, openBare } from "../piece/open.ts";
import { closesAt, editionName, layAhead, layEdition } from "../release/ahead.ts";
import { changed } from "../release/changed.ts";
import { loadChannel, seesTo } from "../release/channels.ts";
import { withdrawnAmong } from "../release/last-look.ts";
import { loadPlaces } from "../sections/places.ts";
import { cancel, schedule } from "../tasks/schedule.ts";
import { type Act, type Change, write } from "../write.ts";
import {
  isGathering,
  isSigned,
  lockContents,
  named,
  notTheirs,
  type OpenedEdition,
  openToFill,
  UNDER_WAY,
  whyLocked,
} from "./open.ts";

/** So many pieces an edition holds, and so many come into it at once. */
const [MOST, AT_ONCE] = [400, 50];
/** What lies further ahead than this is a slip, in milliseconds. */
const FAR = 800 * 86_400_000;

const onEdition = { editionId: z.uuid(), revision: z.coerce.number().int() };
const reason = z.string().trim().max(500, "At most 500 characters fit.").default("");

export const makeInput = z.object({
  channel: z.string().max(20),
  at: z.number({ error: "This is no date and time." }),
});

/** Makes an edition beside those of the rhythm. */
export function makeEdition(
  act: Act,
  { channel: key, at: wish }: z.output<typeof makeInput>,
): Promise<Result<{ channel: string; number: number }>> {
  return write(act, async (change) => {
    const { tx, actor, now } = change;
    const [channel, places] = [await loadChannel(tx, key), await loadPlaces(tx)];
    if (!actor || !isGathering(channel) || channel.retired)
      return refuse({ code: "not-found", sentence: "There is no such channel." });
    if (!seesTo(actor, channel, places, now)) return notTheirs(tx, channel, places, now);
    const past = refuseDate(wish, now);
    if (past) return refuse(past);
    const { number } = await layEdition(change, channel, { wish, madeFor: null }, places.calendar);
    return accept({ channel: key, number });
  });
}

const refuseDate = (at: number, now: number): Refusal | null =>
  at <= now
    ? { code: "past", field: "at", sentence: "That has passed." }
    : at > now + FAR
      ? { code: "far", field: "at", sentence: "That is more than two years ahead." }
      : null;

export const fillInput = z.object({
  editionId: z.uuid(),
  pieces: z.array(z.uuid()).min(1, "Choose a piece.").max(AT_ONCE, `At most ${AT_ONCE} at once.`),
  /** The part's key; empty for where it belongs by rule. */
  part: z.string().max(60).default(""),
  /** Why it comes in after the edition closed. */
  late: reason,
  /** Whether it leaves another edition of the channel for it. */
  instead: z.stringbool().default(false),
});

/** Puts pieces into an edition, at the end of a part. @returns how many came in; what was there already stays */
export function fillEdition(
  act: Act,
  wanted: Omit<z.input<typeof fillInput>, "instead"> & { instead?: boolean },
): Promise<Result<{ added: number }>> {
  return write(act, async (change) => {
    const { tx, now } = change;
    const pieces: Piece[] = [];
    for (const id of [...new Set(wanted.pieces)].sort()) {
      const opened = await openBare(change, id);
      if (!opened.ok) return opened;
      pieces.push(opened.value.facts);
    }
    const opened = await openToFill(change, wanted.editionId);
    if (!opened.ok) return opened;
    const { row, channel, items } = opened.value;
    const closed = whyLocked(opened.value) ?? whyNotIn(opened.value, pieces, wanted, now);
    if (closed) return refuse(closed);
    const gone = await withdrawnAmong(tx, pieces);
    const withdrawn = pieces.find((one) => gone.has(one.piece.id));
    if (withdrawn)
      return refuse({ code: "withdrawn", sentence: `“${withdrawn.piece.title}”: ${sayHold({ code: "withdrawn" })}` });
    const apart = await elsewhere(change, opened.value, pieces);
    if (apart.length > 0 && !wanted.instead) {
      const where = apart.map((one) => `${one.title} is in ${editionName(channel.editions, one.number)}`).join(", ");
      return refuse({ code: "elsewhere", sentence: `${where}. Say that it is to be in this one instead.` });
    }
    const fixed = apart.find((one) => one.signed > 0);
    if (fixed) {
      const sentence = `${fixed.title} is in ${fixed.edition}, which is signed as it is. Open that one again first.`;
      return refuse({ code: "signed", sentence });
    }
    for (const one of apart) await takenOut(change, one, one, `it is in ${named(opened.value).edition} instead`);
    const parts = channel.editions.parts.map((part) => part.key);
    const known = new Set(items.map((item) => item.pieceId));
    const coming = pieces.filter((one) => !known.has(one.piece.id));
    const isLate = now > row.closesAt;
    for (const [i, one] of coming.entries()) {
      const where = { kindId: one.piece.kindId, sectionIds: one.target.sectionIds };
      const part = [wanted.part, partFor(channel.editions, where), parts[0]].find((key) => key && parts.includes(key));
      const late = isLate ? (wanted.late ?? null) : null;
      const position = (items.at(-1)?.position ?? 0) + i + 1;
      await tx.insert(editionItem).values({
        editionId: row.id,
        pieceId: one.piece.id,
        part: part ?? "",
        position,
        late,
        addedBy: opened.value.actor.id,
      });
      await wishFor(change, one, row.at);
      const name = channel.editions.parts.find((known) => known.key === part)?.name ?? "";
      change
        .apart()
        .happened(
          editionFilled,
          { ...named(opened.value), at: row.at, part: name, late },
          { pieceId: one.piece.id, subjectId: row.id, tell: { author: [one.piece.authorId] } },
        );
    }
    if (coming.length > 0) await touched(change, row.id);
    return accept({ added: coming.length });
  });
}

/** Why pieces cannot come into an edition, or null. */
function whyNotIn(
  { row, items }: OpenedEdition,
  pieces: readonly Piece[],
  { late }: { late?: string | undefined },
  now: number,
): Refusal | null {
  const over = pieces.find((one) => one.state.kind === "closed" || one.state.kind === "parked");
  if (over) return { code: "over", sentence: `“${over.piece.title}” is in ${over.state.name}: it goes nowhere.` };
  if (items.length + pieces.length > MOST)
    return { code: "full", sentence: `An edition holds ${MOST} pieces at most.` };
  if (now > row.closesAt && !late?.trim())
    return { code: "closed", field: "late", sentence: "It has closed. Say why something still comes in." };
  return null;
}

/** The other editions of a channel that are under way and hold one of some pieces, locked. */
async function elsewhere(change: Change, { row, channel }: OpenedEdition, pieces: readonly Piece[]) {
  const found = await change.tx
    .select({
      id: edition.id,
      number: edition.number,
      at: edition.at,
      pieceId: editionItem.pieceId,
      title: piece.title,
      publishAt: piece.publishAt,
      authorId: piece.authorId,
      signed:
        sql<number>`(SELECT COUNT(*) FROM ${editionSignature} WHERE ${editionSignature.editionId} = ${edition.id})`.mapWith(
          Number,
        ),
    })
    .from(editionItem)
    .innerJoin(edition, eq(edition.id, editionItem.editionId))
    .innerJoin(piece, eq(piece.id, editionItem.pieceId))
    .where(
      and(
        eq(edition.channel, row.channel),
        ne(edition.id, row.id),
        inArray(edition.status, [...UNDER_WAY]),
        inArray(
          editionItem.pieceId,
          pieces.map((one) => one.piece.id),
        ),
      ),
    );
  return found.map((one) => ({ ...one, channel: row.channel, edition: editionName(channel.editions, one.number) }));
}

/** A piece that has no date yet is wished for when its edition leaves; what is due so long before moves along. */
async function wishFor(change: Change, facts: Piece, at: number): Promise<void> {
  if (facts.piece.inFlight && facts.piece.publishAt === null) await changed(change, facts, at);
}

const touched = ({ tx }: Change, editionId: string) =>
  tx
    .update(edition)
    .set({ revision: sql`${edition.revision} + 1` })
    .where(eq(edition.id, editionId));

/** Takes a piece out of an edition; the date it had from it goes. */
async function takenOut(
  change: Change,
  of: { id: string; at: number; channel: string; number: number; edition: string },
  one: { pieceId: string; publishAt: number | null; authorId: string },
  why?: string,
): Promise<void> {
  const { tx } = change;
  await tx.delete(editionItem).where(and(eq(editionItem.editionId, of.id), eq(editionItem.pieceId, one.pieceId)));
  if (one.publishAt === of.at) await tx.update(piece).set({ publishAt: null }).where(eq(piece.id, one.pieceId));
  await touched(change, of.id);
  const { channel, number, edition: name } = of;
  change
    .apart()
    .happened(
      editionEmptied,
      { channel, number, edition: name, why },
      { pieceId: one.pieceId, subjectId: of.id, tell: { author: [one.authorId] } },
    );
}

export const takeOutInput = z.object({ editionId: z.uuid(), pieceId: z.uuid() });

/** Takes a piece out of an edition it is in; the piece stays where it is on its own way. */
export function takeOut(act: Act, wanted: z.output<typeof takeOutInput>): Promise<Result<null>> {
  return write(act, async (change) => {
    const known = await openBare(change, wanted.pieceId);
    if (!known.ok) return known;
    const opened = await openToFill(change, wanted.editionId);
    if (!opened.ok) return opened;
    const { row, items } = opened.value;
    const closed = whyLocked(opened.value);
    if (closed) return refuse(closed);
    if (!items.some((item) => item.pieceId === wanted.pieceId)) return refuse(NOT_FOUND);
    const { publishAt, authorId } = known.value.facts.piece;
    await takenOut(change, { ...row, ...named(opened.value) }, { pieceId: wanted.pieceId, publishAt, authorId });
    return accept(null);
  });
}

export const orderInput = z.object({
  editionId: z.uuid(),
  pieceId: z.uuid(),
  part: z.string().max(60),
  /** The piece it is to stand before; empty for the end of the part. */
  before: z.uuid().or(z.literal("")).default(""),
});

/** Puts a piece elsewhere in its edition. What goes before what is meant whatever others moved meanwhile. */
export function orderEdition(act: Act, wanted: z.output<typeof orderInput>): Promise<Result<null>> {
  return write(act, async (change) => {
    const { tx } = change;
    const known = await openBare(change, wanted.pieceId);
    if (!known.ok) return known;
    const opened = await openToFill(change, wanted.editionId);
    if (!opened.ok) return opened;
    const { row, channel, items } = opened.value;
    const closed = whyLocked(opened.value);
    if (closed) return refuse(closed);
    const part = channel.editions.parts.find((one) => one.key === wanted.part);
    if (!part || !items.some((item) => item.pieceId === wanted.pieceId)) return refuse(NOT_FOUND);
    const order = moved(items, channel.editions.parts, wanted.pieceId, part.key, wanted.before || null);
    for (const [position, item] of order.entries()) {
      const was = items.find((one) => one.pieceId === item.pieceId);
      if (was?.position !== position || was.part !== item.part)
        await tx
          .update(editionItem)
          .set({ position, part: item.part })
          .where(and(eq(editionItem.editionId, row.id), eq(editionItem.pieceId, item.pieceId)));
    }
    await touched(change, row.id);
    change.happened(
      editionOrdered,
      { ...named(opened.value), part: part.name },
      { pieceId: wanted.pieceId, subjectId: row.id },
    );
    return accept(null);
  });
}

export const dateInput = z.object({ ...onEdition, at: z.number({ error: "This is no date and time." }) });

/** Moves the date of an edition; pieces that were wished for with it move along. @returns when it leaves, by the windows of its channel */
export function moveEdition(act: Act, wanted: z.input<typeof dateInput>): Promise<Result<{ at: number }>> {
  return write(act, async (change) => {
    const { tx, now } = change;
    const pieces = await lockContents(change, wanted.editionId);
    const opened = await openToFill(change, wanted.editionId, Number(wanted.revision));
    if (!opened.ok) return opened;
    const { row, channel, places, signatures } = opened.value;
    if (row.status === "released" || row.status === "dropped") return refuse(whyLocked(opened.value) as Refusal);
    const past = refuseDate(wanted.at, now);
    if (past) return refuse(past);
    const at = opens(channel.windows, wanted.at);
    if (at === null)
      return refuse({ code: "never-open", field: "at", sentence: "No window opens in the year after that date." });
    const status = row.status === "held" ? (isSigned(channel, signatures) ? "signed" : "gathering") : row.status;
    await tx
      .update(edition)
      .set({
        at,
        closesAt: closesAt(channel.editions, places.calendar, at),
        status,
        holds: [],
        revision: row.revision + 1,
      })
      .where(eq(edition.id, row.id));
    await schedule(tx, { kind: "edition", subject: row.id, dueAt: at });
    for (const facts of pieces) if (facts.piece.publishAt === row.at) await changed(change, facts, at);
    change.happened(
      editionMoved,
      { ...named(opened.value), at },
      { subjectId: row.id, before: { at: row.at }, tell: { people: concerned(opened.value) } },
    );
    return accept({ at });
  });
}

/** Whom an edition concerns: who signs or signed it, and who put something into it. */
export const concerned = ({
  channel,
  items,
  signatures,
}: Pick<OpenedEdition, "channel" | "items" | "signatures">): string[] => [
  ...channel.people,
  ...signatures.flatMap((one) => [one.signerId, one.personId]),
  ...items.map((item) => item.addedBy),
];

export const dropInput = z.object({ ...onEdition, note: text("Say why it is dropped.", 4_000) });

/** Drops an edition: its pieces are free again. */
export function dropEdition(act: Act, wanted: z.input<typeof dropInput>): Promise<Result<{ freed: number }>> {
  return write(act, async (change) => {
    const { tx } = change;
    const pieces = await lockContents(change, wanted.editionId);
    const opened = await openToFill(change, wanted.editionId, Number(wanted.revision));
    if (!opened.ok) return opened;
    const { row, channel, places } = opened.value;
    if (row.status === "released" || row.status === "dropped") return refuse(whyLocked(opened.value) as Refusal);
    for (const facts of pieces) if (facts.piece.publishAt === row.at) await changed(change, facts, null);
    await tx
      .update(edition)
      .set({ status: "dropped", holds: [], revision: row.revision + 1 })
      .where(eq(edition.id, row.id));
    await cancel(tx, "edition", [row.id]);
    change.happened(
      editionDropped,
      { ...named(opened.value), note: wanted.note },
      { subjectId: row.id, tell: { people: concerned(opened.value) } },
    );
    await layAhead(change, channel, places.calendar);
    return accept({ freed: pieces.length });
  });
}
