import { and, eq, exists, gte, inArray, isNotNull, isNull, lte, not, or, type SQL, sql } from "drizzle-orm";
import type { AnyMySqlColumn } from "drizzle-orm/mysql-core";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { whoSits } from "#core/review/seating.ts";
import { localDate } from "#core/time/local.ts";
import type { Queryable } from "../db/client.ts";
import { absence, guestLink, person, piece, seat } from "../db/schema/index.ts";
import { loadFacts, named, type PieceFacts } from "../piece/facts.ts";
import { NOT_FOUND } from "../piece/open.ts";
import { loadPlaces } from "../sections/places.ts";
import { asCandidates, loadTeam } from "../team/queries.ts";
import type { Change } from "../write.ts";
import { conclude } from "./conclude.ts";
import { loadOpenRound, type OpenRound } from "./rounds.ts";

const LISTED = 200;
const undecided = inArray(seat.status, ["open", "waiting"]);

/**
 * The pieces with a seat that somebody else should have today: its holder is away, or who it is held
 * for is back, or it was left without anybody and need not be any longer.
 *
 * @param today the local date
 */
export function piecesOutOfSeat(db: Queryable, today: string): Promise<string[]> {
  const away = (who: AnyMySqlColumn) =>
    exists(
      sql`(SELECT 1 FROM ${absence} WHERE ${and(eq(absence.personId, who), lte(absence.from, today), gte(absence.until, today))})`,
    );
  return piecesWith(
    db,
    or(
      and(isNull(seat.flag), away(seat.personId)),
      and(isNotNull(seat.forPersonId), not(away(seat.forPersonId))),
      and(isNotNull(seat.flag), isNull(seat.forPersonId), eq(person.active, true), not(away(seat.personId))),
    ),
  );
}

/** The pieces in whose open rounds a person has a seat, or has one held for them. */
export const piecesSeating = (db: Queryable, personId: string) =>
  piecesWith(db, or(eq(seat.personId, personId), eq(seat.forPersonId, personId)));

/** The pieces in which a guest whose link is over has still a seat. */
export const piecesOfLateGuests = (db: Queryable, now: number) =>
  piecesWith(
    db,
    exists(sql`(SELECT 1 FROM ${guestLink} WHERE ${and(eq(guestLink.guestId, seat.personId), isOver(now))})`),
  );

/** Whether a guest's link opens nothing any more. */
const isOver = (now: number) => or(isNotNull(guestLink.revokedAt), lte(guestLink.expiresAt, now)) as SQL;

async function piecesWith(db: Queryable, condition: SQL | undefined): Promise<string[]> {
  const rows = await db
    .selectDistinct({ id: seat.pieceId })
    .from(seat)
    .innerJoin(person, eq(person.id, seat.personId))
    .where(and(undecided, condition))
    .limit(LISTED);
  return rows.map((row) => row.id);
}

/** A piece in review with its round, its row locked. */
async function openReview(change: Change, pieceId: string) {
  const places = await loadPlaces(change.tx);
  const facts = await loadFacts(change.tx, places, eq(piece.id, pieceId), true);
  const round = facts && (await loadOpenRound(change.tx, pieceId));
  return facts && round ? { places, facts, round } : null;
}

/**
 * Gives every undecided seat of a piece's open round to whoever should sit there today: the absent
 * one's stand-in, and back. On record, and the new holder and the author are told.
 */
export async function relieve(change: Change, pieceId: string): Promise<Result<null>> {
  const opened = await openReview(change, pieceId);
  if (!opened) return accept(null);
  const { places, facts, round } = opened;
  const team = await loadTeam(change.tx, localDate(change.now, places.calendar.timeZone));
  const people = asCandidates(team, facts.target, change.now);
  const mayDecide = facts.state.review?.authorMayDecide ?? false;
  for (const place of round.seats.filter((one) => one.status === "open" || one.status === "waiting")) {
    const owner = people.find((one) => one.id === (place.forPersonId ?? place.personId));
    if (!owner) continue;
    const others = round.seats.filter((one) => one.id !== place.id && one.status !== "void");
    const seated = new Set(others.map((one) => one.personId));
    const { personId, forPersonId, flag } = whoSits(owner, people, facts.piece.authorId, mayDecide, seated);
    if (personId === place.personId && forPersonId === place.forPersonId && flag === place.flag) continue;
    await occupySeat(change, facts, place, { personId, forPersonId, flag });
  }
  return accept(null);
}

type Seat = OpenRound["seats"][number];

/** Lets somebody else sit: on record, and they and the author are told. */
export async function occupySeat(
  change: Change,
  facts: PieceFacts,
  place: Seat,
  holder: Pick<Seat, "personId" | "forPersonId" | "flag">,
): Promise<void> {
  const ids = [holder.personId, holder.forPersonId ?? holder.personId, place.personId];
  const rows = await change.tx.select({ id: person.id, name: person.name }).from(person).where(inArray(person.id, ids));
  const name = (id: string | null) => rows.find((row) => row.id === id)?.name ?? null;
  await change.tx.update(seat).set(holder).where(eq(seat.id, place.id));
  Object.assign(place, holder);
  const who = name(holder.personId);
  const instead = holder.forPersonId ? ` for ${name(holder.forPersonId)}` : "";
  change.record({
    action: "seat.moved",
    pieceId: facts.piece.id,
    subjectId: place.id,
    before: { person: name(ids[2] ?? null) },
    after: { person: who, for: name(holder.forPersonId), flag: holder.flag },
  });
  if (holder.flag) return;
  if (place.status === "open")
    change.tell({
      to: [holder.personId],
      kind: "review",
      headline: `${facts.state.name}: “${facts.piece.title}” waits on you${instead}`,
      piece: named(facts),
    });
  change.tell({
    to: [facts.piece.authorId],
    kind: "arrived",
    headline: `${who} reviews “${facts.piece.title}”${instead}`,
    piece: named(facts),
  });
}

/** Passes an undecided seat on to somebody who may decide and does not sit in the round yet. */
export async function passSeatOn(
  change: Change,
  pieceId: string,
  from: string,
  to: { id: string; name: string },
): Promise<Result<null>> {
  const opened = await openReview(change, pieceId);
  if (!opened) return refuse(NOT_FOUND);
  const { facts, round } = opened;
  const place = round.seats.find((one) => one.personId === from && (one.status === "open" || one.status === "waiting"));
  if (!place) return accept(null);
  const title = facts.piece.title;
  if (to.id === facts.piece.authorId && !facts.state.review?.authorMayDecide)
    return refuse({ code: "author", sentence: `${to.name} wrote “${title}” and does not decide on it.` });
  if (round.seats.some((one) => one.personId === to.id && one.status !== "void"))
    return refuse({ code: "seated", sentence: `${to.name} has a seat in “${title}” already.` });
  await occupySeat(change, facts, place, { personId: to.id, forPersonId: null, flag: null });
  return accept(null);
}

/** Takes the undecided seats of guests whose link is over out of the count; what the others said may be enough then. */
export async function voidLateSeats(change: Change, pieceId: string): Promise<Result<unknown>> {
  const opened = await openReview(change, pieceId);
  if (!opened) return accept(null);
  const { places, facts, round } = opened;
  const late = await change.tx
    .select({ id: guestLink.guestId })
    .from(guestLink)
    .where(and(eq(guestLink.pieceId, pieceId), isOver(change.now)));
  const theirs = round.seats.filter(
    (one) => (one.status === "open" || one.status === "waiting") && late.some((guest) => guest.id === one.personId),
  );
  if (theirs.length === 0) return accept(null);
  const gone = { status: "void" as const, voidReason: "the guest’s link is over" };
  for (const place of theirs) {
    await change.tx.update(seat).set(gone).where(eq(seat.id, place.id));
    Object.assign(place, gone);
    change.record({ action: "seat.void", pieceId, subjectId: place.id, after: { why: gone.voidReason } });
  }
  return conclude(change, facts, places, round, { note: "", forId: null });
}
