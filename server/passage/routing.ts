import { eq, sql } from "drizzle-orm";
import { z } from "zod";
import { can } from "#core/access/decide.ts";
import { dueChanged, urgencyChanged } from "#core/events/pieces.ts";
import { seatAdded } from "#core/events/review.ts";
import { accept, type Refusal, type Result, refuse } from "#core/refusal.ts";
import { localDate } from "#core/time/local.ts";
import { loadHolder, type Person } from "../access/holders.ts";
import { notGranted, notHere } from "../access/who.ts";
import { newId } from "../db/schema/columns.ts";
import { piece, seat } from "../db/schema/index.ts";
import type { Piece } from "../piece/facts.ts";
import { note, onPiece } from "../piece/input.ts";
import { type Opened, openBare } from "../piece/open.ts";
import { moveDue } from "../review/dates.ts";
import { callOpenSeats, loadOpenRound, type OpenRound } from "../review/rounds.ts";
import { assignTo, occupySeat } from "../review/seats.ts";
import { loadTeam } from "../team/queries.ts";
import { type Act, type Change, write } from "../write.ts";
import { refusePast } from "./dates.ts";

const SENTENCE = "No role of yours lets you pass a review on to others here.";

/** A write of somebody who may pass a piece and its review on. @param theirs whether it is theirs to do all the same */
function routing<T>(
  act: Act,
  wanted: { pieceId: string; revision: unknown },
  work: (change: Change, opened: Opened<Piece>) => Promise<Result<T>>,
  theirs: (change: Change, opened: Opened<Piece>) => Promise<boolean> = async () => false,
): Promise<Result<T>> {
  return write<T>(act, async (change) => {
    const opened = await openBare(change, wanted.pieceId, Number(wanted.revision));
    if (!opened.ok) return opened;
    const { facts, actor } = opened.value;
    const may = can(actor, "piece.route", facts.target, change.now).allowed || (await theirs(change, opened.value));
    if (!may) return notGranted(change.tx, "piece.route", facts.target, change.now, SENTENCE);
    const done = await work(change, opened.value);
    if (done.ok)
      await change.tx
        .update(piece)
        .set({ revision: sql`${piece.revision} + 1` })
        .where(eq(piece.id, facts.piece.id));
    return done;
  });
}

const NO_REVIEW: Refusal = { code: "round-closed", sentence: "No review of this piece is open." };

/** Why somebody cannot sit in an open review, or null. */
function refuseSitting(facts: Piece, current: OpenRound, who: Person | null, now: number): Refusal | null {
  const field = "personId";
  if (!who?.active || who.guest) return notHere(field);
  if (who.id === facts.piece.authorId && !facts.state.review?.authorMayDecide)
    return { code: "author", field, sentence: `${who.name} wrote it and does not decide on it.` };
  if (current.seats.some((one) => one.personId === who.id && one.status !== "void"))
    return { code: "seated", field, sentence: `${who.name} has a seat in this review already.` };
  if (!can(who, "review.decide", facts.target, now).allowed)
    return { code: "unable", field, sentence: `${who.name} holds no role that lets them decide here.` };
  return null;
}

const whom = z.uuid("Choose whom.");

export const reassignSeatInput = z.object({ ...onPiece, seatId: z.uuid(), personId: whom });

/** Gives a seat nobody has decided from to somebody else; whoever sits on it may hand it on, and the author is told. */
export const reassignSeat = (act: Act, wanted: z.input<typeof reassignSeatInput>): Promise<Result<null>> =>
  routing(act, wanted, handOn(wanted), async (change, { facts, actor }) => {
    const current = await loadOpenRound(change.tx, facts.piece.id);
    return current?.seats.find((one) => one.id === wanted.seatId)?.personId === actor.id;
  });

const handOn =
  (wanted: z.input<typeof reassignSeatInput>) =>
  async (change: Change, { facts }: Opened<Piece>): Promise<Result<null>> => {
    const current = await loadOpenRound(change.tx, facts.piece.id);
    const place = current?.seats.find((one) => one.id === wanted.seatId);
    if (!current || !place) return refuse(NO_REVIEW);
    if (place.status === "decided")
      return refuse({ code: "decided", sentence: `${place.name} has decided; the seat is theirs.` });
    const who = await loadHolder(change.tx, wanted.personId);
    const refused = refuseSitting(facts, current, who, change.now);
    if (refused || !who) return refuse(refused ?? NO_REVIEW);
    if (place.status === "void")
      await change.tx.update(seat).set({ status: "waiting", voidReason: null }).where(eq(seat.id, place.id));
    if (place.status === "void") Object.assign(place, { status: "waiting", voidReason: null });
    await occupySeat(change, facts, place, { personId: who.id, forPersonId: null, flag: null });
    await callOpenSeats(change, facts, current);
    return accept(null);
  };

export const addSeatInput = z.object({ ...onPiece, personId: whom, note });

/** Adds a seat to an open review, at the end of its order. */
export const addSeat = (act: Act, wanted: z.input<typeof addSeatInput>): Promise<Result<null>> =>
  routing(act, wanted, async (change, { facts }) => {
    const current = await loadOpenRound(change.tx, facts.piece.id);
    if (!current) return refuse(NO_REVIEW);
    const who = await loadHolder(change.tx, wanted.personId);
    const refused = refuseSitting(facts, current, who, change.now);
    if (refused || !who) return refuse(refused ?? NO_REVIEW);
    const place = {
      id: newId(),
      roundId: current.row.id,
      pieceId: facts.piece.id,
      position: Math.max(-1, ...current.seats.map((one) => one.position)) + 1,
      personId: who.id,
      forPersonId: null,
      status: "waiting" as const,
      voidReason: null,
      flag: null,
    };
    await change.tx.insert(seat).values(place);
    const seats = [...current.seats, { ...place, name: who.name, forName: null }];
    const called = await callOpenSeats(change, facts, { ...current, seats });
    change.happened(
      seatAdded,
      { person: who.name, state: facts.state.name, note: wanted.note ?? "" },
      {
        pieceId: facts.piece.id,
        subjectId: place.id,
        tell: { called: called.filter((one) => one.id === place.id).map((one) => one.personId) },
      },
    );
    return accept(null);
  });

export const changeDueInput = z.object({ ...onPiece, dueAt: z.number().nullable(), note });

/** Gives a piece, and its open review, another due date, or none. */
export const changeDue = (act: Act, wanted: z.input<typeof changeDueInput>): Promise<Result<null>> =>
  routing(act, wanted, async (change, { facts }) => {
    const { dueAt, note = "" } = wanted;
    const past = refusePast({ dueAt, publishAt: null }, change.now);
    if (past) return refuse(past);
    if (!facts.piece.inFlight)
      return refuse({ code: "ended", sentence: `It is in ${facts.state.name}: nothing of it is due.` });
    const { tx } = change;
    await tx.update(piece).set({ dueChosen: true }).where(eq(piece.id, facts.piece.id));
    await moveDue(change, facts.piece.id, dueAt);
    change.happened(
      dueChanged,
      { dueAt, note },
      {
        pieceId: facts.piece.id,
        before: { dueAt: facts.piece.dueAt },
        tell: { concerned: [...(facts.target.piece?.assigneeIds ?? []), facts.piece.authorId] },
      },
    );
    return accept(null);
  });

export const urgencyInput = z.object({ ...onPiece, urgency: z.enum(["normal", "urgent"]) });

/** Calls a piece urgent, or no more; who has it now is told. */
export const changeUrgency = (act: Act, wanted: z.input<typeof urgencyInput>): Promise<Result<null>> =>
  routing(act, wanted, async (change, { facts }) => {
    const { urgency } = wanted;
    if (facts.piece.urgency === urgency) {
      const sentence = urgency === "urgent" ? "It is urgent already." : "It is not urgent.";
      return refuse({ code: "unchanged", field: "urgency", sentence });
    }
    await change.tx.update(piece).set({ urgency }).where(eq(piece.id, facts.piece.id));
    const current = await loadOpenRound(change.tx, facts.piece.id);
    const asked = current?.seats.filter((one) => one.status === "open").map((one) => one.personId) ?? [];
    const concerned = [...(facts.target.piece?.assigneeIds ?? []), ...asked, facts.piece.authorId];
    change.happened(urgencyChanged, { urgency }, { pieceId: facts.piece.id, tell: { concerned } });
    return accept(null);
  });

export const reassignInput = z.object({ ...onPiece, from: z.uuid(), personId: whom });

/** Gives what is assigned to one person to another. */
export const reassign = (act: Act, wanted: z.input<typeof reassignInput>): Promise<Result<null>> =>
  routing(act, wanted, async (change, { facts, places }) => {
    if (!facts.target.piece?.assigneeIds.includes(wanted.from))
      return refuse({ code: "stale", sentence: "It is no longer with them. Look at the piece as it is now." });
    const team = await loadTeam(change.tx, localDate(change.now, places.calendar.timeZone));
    const who = team.people.get(wanted.personId);
    if (!who || !can(who, "piece.read", facts.target, change.now).allowed)
      return refuse({
        code: "unable",
        field: "personId",
        sentence: `${who?.name ?? "That person"} holds no role that lets them read it.`,
      });
    await assignTo(change, facts, wanted.from, { personId: who.id, forPersonId: null }, [...team.people.values()]);
    return accept(null);
  });
