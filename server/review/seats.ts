import { and, eq, inArray } from "drizzle-orm";
import { pieceReassigned } from "#core/events/pieces.ts";
import { seatMoved } from "#core/events/review.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import type { Flag } from "#core/review/seating.ts";
import { assignment, person, piece, seat } from "../db/schema/index.ts";
import { loadPiece, type Piece } from "../piece/facts.ts";
import { NOT_FOUND } from "../piece/open.ts";
import { loadPlaces } from "../sections/places.ts";
import type { Change } from "../write.ts";
import { callOpenSeats, loadOpenRound, type SeatRow } from "./rounds.ts";

/** A piece with its review, its row locked; null where it is gone. */
export async function openReview(change: Change, pieceId: string) {
  const places = await loadPlaces(change.tx);
  const facts = await loadPiece(change.tx, places, eq(piece.id, pieceId), true);
  return facts && { places, facts, round: await loadOpenRound(change.tx, pieceId) };
}

/** Gives what is assigned to one person to another: on record, and they and the author are told. */
export async function assignTo(
  change: Change,
  facts: Piece,
  from: string,
  to: { personId: string; forPersonId: string | null },
  people: readonly { id: string; name: string }[],
): Promise<void> {
  const pieceId = facts.piece.id;
  const name = (id: string | null) => people.find((one) => one.id === id)?.name ?? null;
  await change.tx
    .delete(assignment)
    .where(and(eq(assignment.pieceId, pieceId), inArray(assignment.personId, [from, to.personId])));
  await change.tx.insert(assignment).values({ pieceId, ...to });
  change.happened(
    pieceReassigned,
    { person: name(to.personId) ?? "somebody", personId: to.personId, for: name(to.forPersonId) },
    {
      pieceId,
      before: { personId: from },
      tell: { assigned: [to.personId], author: [facts.piece.authorId] },
    },
  );
}

/** Lets somebody else sit: on record, and they and the author are told. */
export async function occupySeat(
  change: Change,
  facts: Piece,
  place: SeatRow,
  holder: { personId: string; forPersonId: string | null; flag: Flag | null },
): Promise<void> {
  const ids = [holder.personId, holder.forPersonId ?? holder.personId];
  const rows = await change.tx.select({ id: person.id, name: person.name }).from(person).where(inArray(person.id, ids));
  const name = (id: string | null) => rows.find((row) => row.id === id)?.name ?? null;
  const before = place.name;
  await change.tx.update(seat).set(holder).where(eq(seat.id, place.id));
  Object.assign(place, { ...holder, name: name(holder.personId) ?? "", forName: name(holder.forPersonId) });
  const quiet = holder.flag !== null;
  change.happened(
    seatMoved,
    { person: place.name, for: place.forName, flag: holder.flag, state: facts.state.name },
    {
      pieceId: facts.piece.id,
      subjectId: place.id,
      before: { person: before },
      tell: quiet
        ? {}
        : {
            called: place.status === "open" ? [holder.personId] : [],
            author: [facts.piece.authorId],
          },
    },
  );
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
  const { facts, round: current } = opened;
  const place = current?.seats.find(
    (one) => one.personId === from && (one.status === "open" || one.status === "waiting"),
  );
  if (!current || !place) return accept(null);
  const title = facts.piece.title;
  if (to.id === facts.piece.authorId && !facts.state.review?.authorMayDecide)
    return refuse({ code: "author", sentence: `${to.name} wrote “${title}” and does not decide on it.` });
  if (current.seats.some((one) => one.personId === to.id && one.status !== "void"))
    return refuse({ code: "seated", sentence: `${to.name} has a seat in “${title}” already.` });
  await occupySeat(change, facts, place, { personId: to.id, forPersonId: null, flag: null });
  await callOpenSeats(change, facts, current);
  return accept(null);
}
