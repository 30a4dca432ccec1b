import { and, asc, desc, eq, inArray, isNull } from "drizzle-orm";
import type { Target } from "#core/access/decide.ts";
import { accept, type Result } from "#core/refusal.ts";
import { type Decision, judge, type Outcome } from "#core/review/round.ts";
import { type Seating, seat as takeSeats } from "#core/review/seating.ts";
import { sayInstant } from "#core/time/words.ts";
import type { Review, State } from "#core/workflow/document.ts";
import type { Queryable } from "../db/client.ts";
import { newId } from "../db/schema/columns.ts";
import { decision, type piece, round, type SeatStatus, seat } from "../db/schema/index.ts";
import { named, type PieceFacts } from "../piece/facts.ts";
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

/** A round with its seats, as they are about to be laid down. */
export interface SeatedRound {
  row: typeof round.$inferSelect;
  seats: (typeof seat.$inferSelect)[];
}

/**
 * Seats a round by the core's rules for a piece that comes into a review without a sender who
 * chooses: where the sender would pick, the least busy of those they could pick from are seated.
 */
export function seatRound(
  of: typeof piece.$inferSelect,
  state: State,
  target: Target,
  team: Team,
  opening: { number: number; dueAt: number | null; now: number },
): SeatedRound {
  const review = state.review as Review;
  const unpicked = review.seats.map((one) =>
    "role" in one && one.pick === "sender" ? { ...one, pick: "least-busy" as const } : one,
  );
  const seated = takeSeats({ ...review, seats: unpicked }, asCandidates(team, target, opening.now), of.authorId, []);
  if (!seated.ok) throw new Error(`a round without a choice was refused: ${seated.refusal.sentence}`);
  const row = roundRow({
    pieceId: of.id,
    number: opening.number,
    stateKey: state.key,
    review,
    versionId: of.currentVersionId,
    senderId: null,
    note: "",
    dueAt: opening.dueAt,
    now: opening.now,
  });
  return { row, seats: seatRows(row, seated.value) };
}

/** A round's seats with the statuses its rule gives them before anybody has spoken. */
export function callStatuses({ row, seats }: SeatedRound): SeatedRound {
  const outcome = outcomeOf({ row, seats, decisions: [] });
  const open = outcome.kind === "open" ? outcome.openSeats : [];
  return { row, seats: seats.map((one) => (open.includes(one.id) ? { ...one, status: "open" as const } : one)) };
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
  const row = roundRow({
    pieceId: facts.piece.id,
    number: (last?.number ?? 0) + 1,
    stateKey: facts.state.key,
    review,
    versionId: facts.version.id,
    senderId: opening.senderId,
    note: opening.note,
    dueAt,
    now: change.now,
  });
  const seats = seatRows(row, seated.value);
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

type RoundRow = typeof round.$inferSelect;

function roundRow(
  of: Pick<RoundRow, "pieceId" | "number" | "stateKey" | "versionId" | "senderId" | "note" | "dueAt"> & {
    review: Review;
    now: number;
  },
): RoundRow {
  const { review, now, ...rest } = of;
  return {
    id: newId(),
    ...rest,
    rule: review.rule,
    count: review.count ?? 1,
    openedAt: now,
    closedAt: null,
    outcome: null,
  };
}

function seatRows(of: RoundRow, seated: readonly Seating[]): SeatedRound["seats"] {
  return seated.map((place, position) => ({
    id: newId(),
    roundId: of.id,
    pieceId: of.pieceId,
    position,
    personId: place.personId,
    forPersonId: place.forPersonId,
    status: (place.voidReason ? "void" : "waiting") as SeatStatus,
    voidReason: place.voidReason,
    flag: place.flag,
  }));
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
