import { and, asc, desc, eq, inArray, isNull } from "drizzle-orm";
import { accept, type Result } from "#core/refusal.ts";
import { type Decision, judge, type Outcome } from "#core/review/round.ts";
import { seat as takeSeats } from "#core/review/seating.ts";
import { sayInstant } from "#core/time/words.ts";
import type { Review } from "#core/workflow/document.ts";
import type { Queryable } from "../db/client.ts";
import { newId } from "../db/schema/columns.ts";
import { decision, round, type SeatStatus, seat } from "../db/schema/index.ts";
import { named, type PieceFacts } from "../pieces/facts.ts";
import { asCandidates, type Team } from "../team/queries.ts";
import type { Change } from "../write.ts";

export interface OpenRound {
  row: typeof round.$inferSelect;
  seats: (typeof seat.$inferSelect)[];
  decisions: (typeof decision.$inferSelect)[];
}

/** The round a piece is in, or null. */
export async function loadOpenRound(db: Queryable, pieceId: string): Promise<OpenRound | null> {
  const [row] = await db
    .select()
    .from(round)
    .where(and(eq(round.pieceId, pieceId), isNull(round.closedAt)))
    .orderBy(desc(round.number))
    .limit(1);
  if (!row) return null;
  const [seats, decisions] = await Promise.all([
    db.select().from(seat).where(eq(seat.roundId, row.id)).orderBy(asc(seat.position)),
    db.select().from(decision).where(eq(decision.roundId, row.id)).orderBy(asc(decision.at), asc(decision.id)),
  ]);
  return { row, seats, decisions };
}

/** What a stored round amounts to, by the core's rules. */
export function outcomeOf({ row, seats, decisions }: OpenRound): Outcome {
  return judge(
    {
      rule: row.rule,
      count: row.count,
      version: row.versionId,
      seats: seats.map((one) => ({ id: one.id, void: one.status === "void" })),
    },
    decisions.map((one): Decision => ({ seat: one.seatId, verdict: one.verdict, version: one.versionId })),
  );
}

interface Opening {
  review: Review;
  senderId: string | null;
  chosen: readonly string[];
  note: string;
  dueAt: number | null;
  zone: string;
}

/** Opens a round on the piece's present version: seats people by the core's rules and tells those whose turn it is. */
export async function openRound(
  change: Change,
  facts: PieceFacts,
  team: Team,
  opening: Opening,
): Promise<Result<null>> {
  const { review, dueAt } = opening;
  const seated = takeSeats(review, asCandidates(team, facts.target, change.now), facts.piece.authorId, opening.chosen);
  if (!seated.ok) return seated;
  const [last] = await change.tx
    .select({ number: round.number })
    .from(round)
    .where(eq(round.pieceId, facts.piece.id))
    .orderBy(desc(round.number))
    .limit(1);
  const row: typeof round.$inferSelect = {
    id: newId(),
    pieceId: facts.piece.id,
    number: (last?.number ?? 0) + 1,
    stateKey: facts.state.key,
    rule: review.rule,
    count: review.count ?? 1,
    versionId: facts.version.id,
    senderId: opening.senderId,
    note: opening.note,
    openedAt: change.now,
    dueAt,
    closedAt: null,
    outcome: null,
  };
  const seats = seated.value.map((place, position) => ({
    id: newId(),
    roundId: row.id,
    pieceId: facts.piece.id,
    position,
    personId: place.personId,
    forPersonId: place.forPersonId,
    status: (place.voidReason ? "void" : "waiting") as SeatStatus,
    voidReason: place.voidReason,
    flag: place.flag,
  }));
  await change.tx.insert(round).values(row);
  if (seats.length > 0) await change.tx.insert(seat).values(seats);
  const names = seats.map((one) => ({
    person: team.people.get(one.personId)?.name,
    for: one.forPersonId && team.people.get(one.forPersonId)?.name,
    void: one.voidReason ?? undefined,
  }));
  change.record({
    action: "round.opened",
    pieceId: facts.piece.id,
    subjectId: row.id,
    after: {
      state: facts.state.key,
      rule: row.rule,
      version: facts.version.number,
      hash: facts.version.hash,
      seats: names,
    },
  });
  await callOpenSeats(change, facts, { row, seats, decisions: [] }, opening.zone);
  return accept(null);
}

/** Brings the seats' statuses in line with the outcome and tells those whose turn has come. */
export async function callOpenSeats(
  change: Change,
  facts: PieceFacts,
  current: OpenRound,
  zone: string,
): Promise<void> {
  const outcome = outcomeOf(current);
  if (outcome.kind !== "open") return;
  const called = current.seats.filter((one) => outcome.openSeats.includes(one.id) && one.status !== "open");
  const statuses = new Map<SeatStatus, string[]>();
  for (const one of current.seats.filter((candidate) => candidate.status !== "void")) {
    const decided = current.decisions.some(
      (said) => said.seatId === one.id && said.versionId === current.row.versionId,
    );
    const status: SeatStatus = outcome.openSeats.includes(one.id) ? "open" : decided ? "decided" : "waiting";
    statuses.set(status, [...(statuses.get(status) ?? []), one.id]);
  }
  for (const [status, ids] of statuses) await change.tx.update(seat).set({ status }).where(inArray(seat.id, ids));
  const { dueAt, note, openedAt } = current.row;
  change.tell({
    to: called.map((one) => one.personId),
    kind: "review",
    headline: `${facts.state.name}: “${facts.piece.title}” waits on you${dueAt ? `, due ${sayInstant(dueAt, zone, openedAt)}` : ""}`,
    note,
    piece: named(facts),
  });
}

/** Ends a round; seats that have not spoken are closed. */
export async function closeRound(
  change: Change,
  current: OpenRound,
  outcome: NonNullable<typeof round.$inferSelect.outcome>,
): Promise<void> {
  await change.tx.update(round).set({ closedAt: change.now, outcome }).where(eq(round.id, current.row.id));
  await change.tx
    .update(seat)
    .set({ status: "closed" })
    .where(and(eq(seat.roundId, current.row.id), inArray(seat.status, ["open", "waiting"])));
}
