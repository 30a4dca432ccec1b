import { and, asc, desc, eq, inArray, isNull, sql } from "drizzle-orm";
import { alias } from "drizzle-orm/mysql-core";
import { roundClosed, roundStuck } from "#core/events/review.ts";
import { outcomeOf, type Standoff } from "#core/review/deciding.ts";
import type { Decision, Outcome, Stuck } from "#core/review/round.ts";
import { isVacant } from "#core/review/seating.ts";
import { whoMay } from "../access/who.ts";
import type { Queryable } from "../db/client.ts";
import { prepared } from "../db/prepared.ts";
import { decision, person, type RoundEnd, round, type SeatStatus, seat, version } from "../db/schema/index.ts";
import type { Piece } from "../piece/facts.ts";
import { cancel } from "../tasks/schedule.ts";
import type { Change } from "../write.ts";

/** A seat with the names of those it concerns. */
export type SeatRow = typeof seat.$inferSelect & { name: string; forName: string | null };

/** The round a piece is in, with its seats in order and what was said, oldest first. */
export interface OpenRound {
  row: typeof round.$inferSelect & { boundHash: string };
  seats: SeatRow[];
  decisions: (typeof decision.$inferSelect & { boundHash: string })[];
}

const ID = sql.placeholder("id");
const owner = alias(person, "owner");

const askRound = prepared((db) =>
  db
    .select({ row: round, boundHash: version.boundHash })
    .from(round)
    .innerJoin(version, eq(version.id, round.versionId))
    .where(and(eq(round.pieceId, ID), isNull(round.closedAt)))
    .orderBy(desc(round.number))
    .limit(1)
    .prepare(),
);

const askSeats = prepared((db) =>
  db
    .select({ seat, name: person.name, forName: owner.name })
    .from(seat)
    .innerJoin(person, eq(person.id, seat.personId))
    .leftJoin(owner, eq(owner.id, seat.forPersonId))
    .where(eq(seat.roundId, ID))
    .orderBy(asc(seat.position))
    .prepare(),
);

const askDecisions = prepared((db) =>
  db
    .select({ decision, boundHash: version.boundHash })
    .from(decision)
    .innerJoin(version, eq(version.id, decision.versionId))
    .where(eq(decision.roundId, ID))
    .orderBy(asc(decision.at), asc(decision.id))
    .prepare(),
);

/** The round a piece is in, or null. */
export async function loadOpenRound(db: Queryable, pieceId: string): Promise<OpenRound | null> {
  const [found] = await askRound(db, { id: pieceId });
  if (!found) return null;
  const { row, boundHash } = found;
  const [seats, decisions] = await Promise.all([askSeats(db, { id: row.id }), askDecisions(db, { id: row.id })]);
  return {
    row: { ...row, boundHash },
    seats: seats.map(({ seat: place, ...names }) => ({ ...place, ...names })),
    decisions: decisions.map((one) => ({ ...one.decision, boundHash: one.boundHash })),
  };
}

/** Which of some pieces have an open round. */
export async function inReview({ tx }: Change, pieceIds: readonly string[]): Promise<Set<string>> {
  const rows = await tx
    .select({ pieceId: round.pieceId })
    .from(round)
    .where(and(inArray(round.pieceId, [...pieceIds]), isNull(round.closedAt)));
  return new Set(rows.map((row) => row.pieceId));
}

/** A stored round as the core judges it. */
export const standoffOf = ({ row, seats, decisions }: OpenRound): Standoff => ({
  rule: row.rule,
  count: row.count,
  version: row.boundHash,
  places: seats.map(({ id, personId, name, forPersonId, voidReason, flag }) => ({
    id,
    personId,
    name,
    forPersonId,
    voidReason,
    vacant: isVacant(flag),
  })),
  decisions: decisions.map((one): Decision => ({ seat: one.seatId, verdict: one.verdict, version: one.boundHash })),
});

/** What a stored round amounts to, by the core's rules. */
export const judged = (current: OpenRound): Outcome => outcomeOf(standoffOf(current));

/**
 * Brings the seats' statuses in line with what the round amounts to, and says on record when it is
 * stuck or goes on again, to those who can mend it.
 *
 * @returns those whose turn has come, with whom they sit for
 */
export async function callOpenSeats(change: Change, facts: Piece, current: OpenRound): Promise<SeatRow[]> {
  const outcome = judged(current);
  if (outcome.kind !== "open") return [];
  const called = current.seats.filter((one) => outcome.openSeats.includes(one.id) && one.status !== "open");
  const statuses = new Map<SeatStatus, string[]>();
  for (const one of current.seats.filter((candidate) => candidate.status !== "void")) {
    const decided = current.decisions.some(
      (said) => said.seatId === one.id && said.boundHash === current.row.boundHash,
    );
    const status: SeatStatus = outcome.openSeats.includes(one.id) ? "open" : decided ? "decided" : "waiting";
    if (status !== one.status) statuses.set(status, [...(statuses.get(status) ?? []), one.id]);
  }
  for (const [status, ids] of statuses) await change.tx.update(seat).set({ status }).where(inArray(seat.id, ids));
  await noteStuck(change, facts, current, outcome.stuck);
  return called.filter((one) => !isVacant(one.flag));
}

/** Keeps whether a round is stuck; when that changes it is on record, and its owners are told. */
export async function noteStuck(
  change: Change,
  facts: Piece,
  { row }: Pick<OpenRound, "row">,
  stuck: Stuck | null,
): Promise<void> {
  if (row.stuck === stuck) return;
  await change.tx.update(round).set({ stuck }).where(eq(round.id, row.id));
  change.happened(
    roundStuck,
    { state: facts.state.name, stuck, rule: row.rule, count: row.count },
    { pieceId: facts.piece.id, subjectId: row.id, tell: { owners: await ownersOf(change, facts, row.senderId) } },
  );
}

/** Who answers for a piece's way: its sender, its author, and whoever may say who reviews it. */
export async function ownersOf(
  change: Change,
  facts: Pick<Piece, "piece" | "target">,
  senderId: string | null,
): Promise<string[]> {
  const routing = await whoMay(change.tx, "piece.route", facts.target, change.now);
  return [...(senderId ? [senderId] : []), facts.piece.authorId, ...routing.map((one) => one.id)];
}

/** Those called, as an event tells them: whom each sits for stands in their notice. */
export const recipients = (called: readonly SeatRow[]) =>
  called.map(({ personId, forName }) => ({ to: personId, params: { for: forName } }));

/** Ends a round; seats that have not spoken are closed. */
export async function closeRound(
  change: Change,
  facts: Piece,
  current: Pick<OpenRound, "row">,
  outcome: RoundEnd,
): Promise<void> {
  const { row } = current;
  await change.tx.update(round).set({ closedAt: change.now, outcome, stuck: null }).where(eq(round.id, row.id));
  await change.tx
    .update(seat)
    .set({ status: "closed" })
    .where(and(eq(seat.roundId, row.id), inArray(seat.status, ["open", "waiting"])));
  await cancel(change.tx, "reminder", [row.id]);
  change.happened(roundClosed, { state: facts.state.name, outcome }, { pieceId: facts.piece.id, subjectId: row.id });
}
