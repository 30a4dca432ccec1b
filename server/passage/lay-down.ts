import { and, inArray, isNull, sql } from "drizzle-orm";
import type { Arrival } from "#core/passage/arrive.ts";
import { groupBy } from "#core/words/group.ts";
import { insertAll } from "../db/insert.ts";
import { newId } from "../db/schema/columns.ts";
import {
  assignment,
  checklistPoint,
  piece,
  pieceViewer,
  round,
  type SeatStatus,
  seat,
  stay,
  type Urgency,
} from "../db/schema/index.ts";
import { scheduleAll } from "../tasks/schedule.ts";
import type { Change } from "../write.ts";

type Row = typeof piece.$inferSelect;

/** A piece that comes into a state, and what its arrival brings there. */
export interface Landing {
  row: Row;
  arrival: Arrival;
  /** The revision of a workflow it travels on from now. */
  revisionId: string;
  /** The step by which it came, and what was said. */
  step: string;
  note: string;
  urgency: Urgency;
  publishAt: number | null;
  /** Whether somebody chose the due date. */
  dueChosen: boolean;
  /** Whether its writer is still alone with it. */
  private: boolean;
}

/** A round as it was laid down. */
export interface LaidRound {
  row: typeof round.$inferSelect;
  seats: (typeof seat.$inferSelect)[];
}

/**
 * Writes what arrivals bring, for one piece or a thousand, in as many statements: where the piece is
 * and since when, its stay, who may see it, what is to be ticked, who has it, its review.
 *
 * @returns the rounds that opened, by piece
 */
export async function layDown(change: Change, landings: readonly Landing[]): Promise<Map<string, LaidRound>> {
  const { tx, now } = change;
  for (const [, alike] of groupBy(landings, (one) => JSON.stringify(whereabouts(one, now)))) {
    const [first] = alike as [Landing];
    await tx
      .update(piece)
      .set({ ...whereabouts(first, now), revision: sql`${piece.revision} + 1` })
      .where(inArray(piece.id, idsOf(alike)));
  }
  await tx
    .update(stay)
    .set({ leftAt: now })
    .where(and(inArray(stay.pieceId, idsOf(landings)), isNull(stay.leftAt)));
  await insertAll(
    tx,
    stay,
    landings.map(({ row, arrival, revisionId, step, note }) => ({
      id: newId(),
      pieceId: row.id,
      stateKey: arrival.state.key,
      workflowRevisionId: revisionId,
      sectionId: row.sectionId,
      kindId: row.kindId,
      arrivedAt: now,
      step,
      byId: change.actor?.id ?? null,
      note,
    })),
  );
  await replaceViewers(change, landings);
  await replaceChecklists(change, landings);
  await replaceAssigned(change, landings);
  return openRounds(change, landings);
}

function whereabouts(landing: Landing, now: number) {
  const { revisionId, urgency, publishAt, dueChosen } = landing;
  const { state, dueAt } = landing.arrival;
  return {
    workflowRevisionId: revisionId,
    stateKey: state.key,
    stateKind: state.kind,
    since: now,
    dueAt,
    dueChosen,
    urgency,
    publishAt,
    private: landing.private,
    restricted: !state.viewers.includes("anyone"),
  };
}

type Part = { row: Pick<Row, "id">; arrival: Pick<Arrival, "viewers" | "checklist" | "assigned"> };

/** Whom a restricted state shows its pieces to. */
export const replaceViewers = (change: Change, of: readonly Part[]): Promise<void> =>
  replace(change, pieceViewer, of, ({ row, arrival }) =>
    (arrival.viewers ?? []).map((principal) => ({ pieceId: row.id, principal })),
  );

/** What is to be ticked. */
export const replaceChecklists = (change: Change, of: readonly Part[]): Promise<void> =>
  replace(change, checklistPoint, of, ({ row, arrival }) =>
    arrival.checklist.map((words, position) => ({ pieceId: row.id, position, words })),
  );

/** Who has it. */
const replaceAssigned = (change: Change, of: readonly Part[]): Promise<void> =>
  replace(change, assignment, of, ({ row, arrival }) => [
    ...new Map(arrival.assigned.map((one) => [one.personId, { pieceId: row.id, ...one }])).values(),
  ]);

async function replace<T extends typeof pieceViewer | typeof checklistPoint | typeof assignment>(
  { tx }: Change,
  table: T,
  of: readonly Part[],
  rows: (one: Part) => T["$inferInsert"][],
): Promise<void> {
  if (of.length === 0) return;
  await tx.delete(table).where(inArray(table.pieceId, idsOf(of)));
  await insertAll(tx, table, of.flatMap(rows));
}

/** Opens the reviews that arrivals bring, each on its piece's present version, those asked first called. */
export async function openRounds(
  { tx, now, actor }: Change,
  landings: readonly Pick<Landing, "row" | "arrival" | "note">[],
): Promise<Map<string, LaidRound>> {
  const opening = landings.filter(({ arrival }) => arrival.round);
  if (opening.length === 0) return new Map();
  const numbers = await tx
    .select({ pieceId: round.pieceId, number: sql<number>`MAX(${round.number})` })
    .from(round)
    .where(inArray(round.pieceId, idsOf(opening)))
    .groupBy(round.pieceId);
  const last = new Map(numbers.map((one) => [one.pieceId, Number(one.number)]));
  const laid = opening.map(({ row, arrival, note }): LaidRound => {
    const { review, seats, open, stuck } = arrival.round as NonNullable<Arrival["round"]>;
    const opened = {
      id: newId(),
      pieceId: row.id,
      number: (last.get(row.id) ?? 0) + 1,
      stateKey: arrival.state.key,
      rule: review.rule,
      count: review.count ?? 1,
      versionId: row.currentVersionId,
      senderId: actor?.id ?? null,
      note,
      openedAt: now,
      dueAt: arrival.dueAt,
      calledUntil: null,
      closedAt: null,
      outcome: null,
      stuck,
    };
    const status = (place: (typeof seats)[number], i: number): SeatStatus =>
      place.voidReason ? "void" : open.includes(i) ? "open" : "waiting";
    return {
      row: opened,
      seats: seats.map((place, position) => ({
        id: newId(),
        roundId: opened.id,
        pieceId: row.id,
        position,
        status: status(place, position),
        ...place,
      })),
    };
  });
  await insertAll(
    tx,
    round,
    laid.map((one) => one.row),
  );
  await insertAll(
    tx,
    seat,
    laid.flatMap((one) => one.seats),
  );
  const calling = laid.flatMap(({ row: { id } }, i) => {
    const { remind = [], overdue } = opening[i]?.arrival.round?.review ?? {};
    return remind.length > 0 || overdue ? [id] : [];
  });
  // When they remind is looked up as the first of them comes to be done: at once.
  await scheduleAll(
    tx,
    calling.map((subject) => ({ kind: "reminder", subject, dueAt: now })),
  );
  return new Map(laid.map((one) => [one.row.pieceId, one]));
}

const idsOf = (of: readonly { row: Pick<Row, "id"> }[]) => of.map(({ row }) => row.id);
