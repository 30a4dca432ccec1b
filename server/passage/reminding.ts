import { and, eq, isNull } from "drizzle-orm";
import { reviewOverdue, reviewReminded } from "#core/events/review.ts";
import { peopleMeant } from "#core/people/principals.ts";
import { accept, type Result } from "#core/refusal.ts";
import { callsBetween, callsOf, takesOver } from "#core/review/reminding.ts";
import { type Candidate, isVacant } from "#core/review/seating.ts";
import type { Review } from "#core/workflow/document.ts";
import { assignment, round } from "../db/schema/index.ts";
import type { Piece } from "../piece/facts.ts";
import { callOpenSeats, type OpenRound, ownersOf, recipients, type SeatRow } from "../review/rounds.ts";
import { occupySeat, openReview } from "../review/seats.ts";
import type { Change } from "../write.ts";
import { everybody } from "./relief.ts";

/**
 * Does what a review does by the clock, as far as it has come since it was done last: reminds whoever has
 * not decided, and lets what the workflow says of the late follow. That each happens once is kept with the
 * round, in the same transaction.
 *
 * @returns when something comes next, epoch milliseconds; null where nothing does
 */
export async function callLate(change: Change, roundId: string): Promise<Result<number | null>> {
  const { tx, now } = change;
  const [row] = await tx
    .select({ pieceId: round.pieceId })
    .from(round)
    .where(and(eq(round.id, roundId), isNull(round.closedAt)));
  const opened = row && (await openReview(change, row.pieceId));
  const current = opened?.round;
  const review = opened?.facts.state.review;
  if (!current || !review || current.row.id !== roundId || opened.facts.piece.deletedAt !== null) return accept(null);
  const { facts, places } = opened;
  const { openedAt, dueAt, calledUntil } = current.row;
  const { come, next } = callsBetween(
    callsOf(review, { openedAt, dueAt }, places.calendar),
    calledUntil ?? openedAt,
    now,
  );
  if (come.length === 0 || dueAt === null) return accept(next);
  await tx.update(round).set({ calledUntil: now }).where(eq(round.id, roundId));
  const late = current.seats.filter((one) => one.status === "open" && !isVacant(one.flag));
  if (come.some(({ does }) => does === "remind") && late.length > 0)
    change.happened(
      reviewReminded,
      { state: facts.state.name, dueAt, late: dueAt <= now, people: late.map((one) => one.name) },
      { pieceId: facts.piece.id, subjectId: roundId, tell: { called: recipients(late) } },
    );
  if (come.some(({ does }) => does === "overdue"))
    await follow(change, facts, current, { review, late, dueAt, people: await everybody(change, facts, places) });
  return accept(next);
}

/** What the workflow says of who is late: somebody is told, or their seats go on to others. */
async function follow(
  change: Change,
  facts: Piece,
  current: OpenRound,
  of: { review: Review; late: readonly SeatRow[]; dueAt: number; people: readonly Candidate[] },
): Promise<void> {
  const { review, late, dueAt, people } = of;
  const passed: { place: SeatRow; from: { id: string; name: string }; to: Candidate | null }[] = [];
  for (const place of late) {
    const from = { id: place.personId, name: place.name };
    const holder = people.find((one) => one.id === place.personId);
    const seated = new Set(current.seats.filter((one) => one.status !== "void").map((one) => one.personId));
    const to = holder ? takesOver(review, holder, { people, authorId: facts.piece.authorId, seated }) : null;
    if (to) await occupySeat(change, facts, place, { personId: to.id, forPersonId: null, flag: null });
    passed.push({ place, from, to });
  }
  if (passed.some(({ to }) => to)) await callOpenSeats(change, facts, current);
  const left = passed.filter(({ to }) => to === null);
  change.happened(
    reviewOverdue,
    {
      state: facts.state.name,
      dueAt,
      late: passed.map(({ from, to }) => ({ person: from.name, to: to?.name ?? null })),
    },
    {
      pieceId: facts.piece.id,
      subjectId: current.row.id,
      tell: {
        told: left.length > 0 || late.length === 0 ? await toldOf(change, facts, current, review, people) : [],
        late: left.map(({ from }) => from.id),
        relieved: passed.flatMap(({ from, to }) => (to ? [{ to: from.id, params: { to: to.name } }] : [])),
      },
    },
  );
}

/** Whom the workflow tells that a review is late; where it names nobody, those who answer for the piece's way. */
async function toldOf(
  change: Change,
  facts: Piece,
  current: OpenRound,
  { overdue }: Review,
  people: readonly Candidate[],
): Promise<string[]> {
  if (!overdue?.to) return ownersOf(change, facts, current.row.senderId);
  const assigned = await change.tx
    .select({ id: assignment.personId })
    .from(assignment)
    .where(eq(assignment.pieceId, facts.piece.id));
  const assigneeIds = [...assigned.map(({ id }) => id), ...current.seats.map((one) => one.personId)];
  return peopleMeant([overdue.to], { authorId: facts.piece.authorId, assigneeIds, people });
}
