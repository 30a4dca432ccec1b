import { and, asc, eq, isNull, type SQL, sql } from "drizzle-orm";
import { unionAll } from "drizzle-orm/mysql-core";
import type { Fan } from "#core/flow/fan.ts";
import { pathName } from "#core/sections/tree.ts";
import { groupBy } from "#core/words/group.ts";
import { stateOf, type Workflow } from "#core/workflow/document.ts";
import { type Stop, strip } from "#core/workflow/drawing/strip.ts";
import type { Queryable } from "../db/client.ts";
import { prepared } from "../db/prepared.ts";
import { assignment, kind, person, piece, round, type SeatStatus, seat, stay } from "../db/schema/index.ts";
import { likelyOfPieces } from "../flow/likely.ts";
import { loadDocuments } from "../piece/documents.ts";
import { openCommentsOn } from "../piece/facts.ts";
import type { Viewer } from "../viewer.ts";

/** The driver writes a list where one placeholder stands. */
const AMONG = sql.placeholder("ids");

const askStays = prepared((db) =>
  db
    .select({
      pieceId: stay.pieceId,
      stateKey: stay.stateKey,
      arrivedAt: stay.arrivedAt,
      leftAt: stay.leftAt,
      step: stay.step,
      note: stay.note,
      by: person.name,
    })
    .from(stay)
    .leftJoin(person, eq(person.id, stay.byId))
    .where(sql`${stay.pieceId} IN (${AMONG})`)
    .orderBy(asc(stay.arrivedAt), asc(stay.id))
    .prepare(),
);

/** Who sits in the open rounds of some pieces, by their place, and then to whom the pieces are assigned. */
const askSitting = prepared((db) => {
  const seats = db
    .select({
      pieceId: seat.pieceId,
      name: person.name,
      status: sql<SeatStatus | "assigned">`${seat.status}`.as("status"),
      place: sql<number>`${seat.position}`.as("place"),
    })
    .from(seat)
    .innerJoin(round, and(eq(round.id, seat.roundId), isNull(round.closedAt)))
    .innerJoin(person, eq(person.id, seat.personId))
    .where(sql`${seat.pieceId} IN (${AMONG})`);
  const assigned = db
    .select({
      pieceId: assignment.pieceId,
      name: person.name,
      status: sql<"assigned">`'assigned'`.as("status"),
      place: sql<number>`1000`.as("place"),
    })
    .from(assignment)
    .innerJoin(person, eq(person.id, assignment.personId))
    .where(sql`${assignment.pieceId} IN (${AMONG})`);
  return unionAll(seats, assigned).orderBy(sql`place`, sql`name`).prepare();
});

/** The ways of some pieces, each oldest first: time in a state, with the step that led there. */
export const waysOf = (db: Queryable, ids: readonly string[]) => askStays(db, { ids: [...ids] });

type Passed = Awaited<ReturnType<typeof waysOf>>[number];
type Sitting = { name: string; status: SeatStatus | "assigned" };

/** The columns a row of any list of pieces begins with. */
export const rowColumns = {
  id: piece.id,
  slug: piece.slug,
  title: piece.title,
  sectionId: piece.sectionId,
  kind: kind.name,
  authorId: piece.authorId,
  author: person.name,
  workflowRevisionId: piece.workflowRevisionId,
  stateKey: piece.stateKey,
  stateKind: piece.stateKind,
  since: piece.since,
  dueAt: piece.dueAt,
  urgency: piece.urgency,
  publishAt: piece.publishAt,
  private: piece.private,
  live: piece.liveVersionId,
  revision: piece.revision,
  openComments: openCommentsOn(piece.id),
};

/** What a row of any list is drawn from. */
export type RawRow = SelectResult<typeof rowColumns>;

type SelectResult<C extends Record<string, { _: { data: unknown; notNull?: boolean } } | SQL>> = {
  [K in keyof C]: C[K] extends SQL<infer T>
    ? T
    : C[K] extends { _: { data: infer D; notNull: infer N } }
      ? N extends true
        ? D
        : D | null
      : never;
};

/** A seat as the strip draws it. */
interface SeatMark {
  name: string;
  decided: boolean;
}

/** One row of a list of pieces, ready to draw. Instants are epoch milliseconds. */
export interface PieceRow extends Omit<RawRow, Undrawn> {
  section: string;
  state: string;
  seats: SeatMark[];
  /** Whose turn it is: who is to decide or to see to it, or who writes it. Nobody where it waits for a date. */
  holders: string[];
  stops: Stop[];
  /** How it came where it is: the step's name, by whom, with which words. Null at the beginning. */
  arrival: { step: string; by: string | null; note: string } | null;
  /** When it is likely to arrive, as it was last foreseen; null for what is not on its way. */
  likely: Fan | null;
}

/** Rows as every list draws them, in three statements more, however many there are. */
export async function drawRows<R extends RawRow>(db: Queryable, viewer: Viewer, rows: readonly R[]) {
  if (rows.length === 0) return [];
  const ids = rows.map((row) => row.id);
  const revisions = rows.map((row) => row.workflowRevisionId);
  const [documents, stays, seats, likely] = await Promise.all([
    loadDocuments(db, revisions),
    waysOf(db, ids),
    askSitting(db, { ids }),
    likelyOfPieces(db, ids),
  ]);
  const ways = groupBy(stays, (one) => one.pieceId);
  const sitting = groupBy(seats, (one) => one.pieceId);
  return rows.map((row) => {
    const workflow = documents.get(row.workflowRevisionId) as Workflow;
    const beside = { way: ways.get(row.id) ?? [], seats: sitting.get(row.id) ?? [], likely: likely.get(row.id) };
    return drawRow(viewer, workflow, row, beside);
  });
}

/** What a row is computed from, and is not sent along. */
type Undrawn = "sectionId" | "authorId" | "workflowRevisionId" | "stateKey";

/** What is read of a piece beside its row: its stays, oldest first; the seats of its open round; what is likely. */
interface BesideRow {
  way: readonly Passed[];
  seats: readonly Sitting[];
  likely: Fan | undefined;
}

/** One row as every list draws it. */
export function drawRow<R extends RawRow>(
  viewer: Viewer,
  workflow: Workflow,
  row: R,
  { way, seats, likely }: BesideRow,
): Omit<R, Undrawn> & PieceRow {
  const { sectionId, authorId, workflowRevisionId, stateKey, ...shown } = row;
  const last = way.at(-1);
  const marks = seats.filter((one) => one.status !== "void" && one.status !== "assigned");
  const asked = seats.filter((one) => one.status === "open" || one.status === "assigned").map((one) => one.name);
  return {
    ...shown,
    section: pathName(viewer.places, sectionId),
    state: stateOf(workflow, stateKey).name,
    seats: marks.map((one) => ({ name: one.name, decided: one.status === "decided" })),
    holders: asked.length > 0 ? [...new Set(asked)] : row.stateKind === "writing" ? [row.author] : [],
    stops: strip(workflow, way, row.dueAt, row.publishAt, viewer.calendar, viewer.now),
    arrival: last?.step ? { step: last.step, by: last.by, note: last.note } : null,
    likely: likely ? { p10: likely.p10, p50: likely.p50, p90: likely.p90 } : null,
  };
}
