import { and, eq, inArray, isNotNull, isNull, lte, or, type SQL } from "drizzle-orm";
import { seatVoid } from "#core/events/review.ts";
import { coveredBy } from "#core/passage/arrive.ts";
import { accept, type Result } from "#core/refusal.ts";
import { type Candidate, whoSits } from "#core/review/seating.ts";
import { localDate } from "#core/time/local.ts";
import type { Queryable } from "../db/client.ts";
import { assignment, guestLink, person, piece, round, seat } from "../db/schema/index.ts";
import { completed, type Piece } from "../piece/facts.ts";
import { callOpenSeats, type OpenRound } from "../review/rounds.ts";
import { assignTo, occupySeat, openReview } from "../review/seats.ts";
import type { Places } from "../sections/places.ts";
import { asCandidates, loadTeam } from "../team/queries.ts";
import type { Change } from "../write.ts";
import { conclude } from "./conclude.ts";

const undecided = inArray(seat.status, ["open", "waiting"]);

/** The pieces in whose open reviews a person sits, or has a seat held for them. */
export async function piecesReviewedBy(db: Queryable, personId: string): Promise<string[]> {
  const rows = await db
    .selectDistinct({ id: seat.pieceId })
    .from(seat)
    .innerJoin(round, and(eq(round.id, seat.roundId), isNull(round.closedAt)))
    .where(and(undecided, or(eq(seat.personId, personId), eq(seat.forPersonId, personId))));
  return rows.map((row) => row.id);
}

/** The pieces that wait on a person, or on somebody in their place: as a reviewer, or assigned to them. */
export async function piecesWithWork(db: Queryable, personId: string): Promise<string[]> {
  const assigned = await db
    .selectDistinct({ id: assignment.pieceId })
    .from(assignment)
    .innerJoin(piece, and(eq(piece.id, assignment.pieceId), eq(piece.inFlight, true)))
    .where(or(eq(assignment.personId, personId), eq(assignment.forPersonId, personId)));
  return [...new Set([...(await piecesReviewedBy(db, personId)), ...assigned.map((row) => row.id)])];
}

/**
 * Gives what waits on a piece to whoever should have it today: every undecided seat of its review
 * and every assignment, to the absent one's stand-in and back. On record, and whoever has it now
 * and the author are told. A round nobody could pass any more says so.
 */
export async function relieve(change: Change, pieceId: string): Promise<Result<null>> {
  const opened = await openReview(change, pieceId);
  if (!opened) return accept(null);
  const { places, facts, round: current } = opened;
  const people = await everybody(change, facts, places);
  if (current) await relieveSeats(change, facts, current, people);
  await relieveAssigned(change, facts, people);
  return accept(null);
}

/** The team, and those who left: a seat may still be theirs. */
export async function everybody(
  { tx, now }: { tx: Queryable; now: number },
  facts: Piece,
  places: Places,
): Promise<Candidate[]> {
  const team = await loadTeam(tx, localDate(now, places.calendar.timeZone));
  return asCandidates(team, facts.target, now);
}

async function relieveSeats(
  change: Change,
  facts: Piece,
  current: OpenRound,
  people: readonly Candidate[],
): Promise<void> {
  const mayDecide = facts.state.review?.authorMayDecide ?? false;
  const gone: Candidate[] = await leavers(change.tx, current);
  for (const place of current.seats.filter((one) => one.status === "open" || one.status === "waiting")) {
    const ownerId = place.forPersonId ?? place.personId;
    const owner = people.find((one) => one.id === ownerId) ?? gone.find((one) => one.id === ownerId);
    if (!owner) continue;
    const others = current.seats.filter((one) => one.id !== place.id && one.status !== "void");
    const seated = new Set(others.map((one) => one.personId));
    const { personId, forPersonId, flag } = whoSits(owner, people, facts.piece.authorId, mayDecide, seated);
    if (personId === place.personId && forPersonId === place.forPersonId && flag === place.flag) continue;
    await occupySeat(change, facts, place, { personId, forPersonId, flag });
  }
  await callOpenSeats(change, facts, current);
}

/** Those with a seat whose access has ended: guests are judged by their link instead. */
async function leavers(db: Queryable, current: OpenRound): Promise<Candidate[]> {
  const ids = current.seats.flatMap((one) => [one.personId, ...(one.forPersonId ? [one.forPersonId] : [])]);
  if (ids.length === 0) return [];
  const rows = await db
    .select({ id: person.id, key: person.key, name: person.name, standInId: person.standInId })
    .from(person)
    .where(and(inArray(person.id, ids), eq(person.active, false), eq(person.guest, false)));
  return rows.map((row) => ({ ...row, active: false, roles: [], load: 0, away: false, decides: false }));
}

async function relieveAssigned(change: Change, facts: Piece, people: readonly Candidate[]): Promise<void> {
  const { tx } = change;
  const pieceId = facts.piece.id;
  const rows = await tx.select().from(assignment).where(eq(assignment.pieceId, pieceId));
  for (const row of rows) {
    const owner = row.forPersonId ?? row.personId;
    const now = coveredBy(owner, people);
    const unchanged = now.personId === row.personId && now.forPersonId === row.forPersonId;
    if (unchanged || rows.some((other) => other !== row && other.personId === now.personId)) continue;
    await assignTo(change, facts, row.personId, now, people);
  }
}

/** Takes the undecided seats of guests whose link is over out of the count; what the others said may be enough then. */
export async function voidLateSeats(change: Change, pieceId: string): Promise<Result<unknown>> {
  const opened = await openReview(change, pieceId);
  if (!opened?.round) return accept(null);
  const { places, facts, round: current } = opened;
  const isOver = or(isNotNull(guestLink.revokedAt), lte(guestLink.expiresAt, change.now)) as SQL;
  const late = await change.tx
    .select({ id: guestLink.guestId })
    .from(guestLink)
    .where(and(eq(guestLink.pieceId, pieceId), isOver));
  const theirs = current.seats.filter(
    (one) => (one.status === "open" || one.status === "waiting") && late.some((guest) => guest.id === one.personId),
  );
  if (theirs.length === 0) return accept(null);
  const gone = { status: "void" as const, voidReason: "guest-over" as const };
  for (const place of theirs) {
    await change.tx.update(seat).set(gone).where(eq(seat.id, place.id));
    Object.assign(place, gone);
    change.happened(seatVoid, { why: gone.voidReason }, { pieceId, subjectId: place.id });
  }
  const whole = await completed(change.tx, facts);
  return conclude(change, whole, places, current, { note: "", forId: null, chosen: null, dueAt: null });
}
