import { and, asc, eq, isNull, type SQL, sql } from "drizzle-orm";
import { pathName } from "#core/sections/tree.ts";
import { groupBy } from "#core/words/group.ts";
import { stateOf, type Workflow } from "#core/workflow/document.ts";
import { type Stop, strip } from "#core/workflow/drawing/strip.ts";
import type { Queryable } from "../db/client.ts";
import { prepared } from "../db/prepared.ts";
import { kind, person, piece, round, type SeatStatus, seat, stay } from "../db/schema/index.ts";
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

const askSitting = prepared((db) =>
  db
    .select({ pieceId: seat.pieceId, name: person.name, status: seat.status })
    .from(seat)
    .innerJoin(round, and(eq(round.id, seat.roundId), isNull(round.closedAt)))
    .innerJoin(person, eq(person.id, seat.personId))
    .where(sql`${seat.pieceId} IN (${AMONG})`)
    .orderBy(asc(seat.position))
    .prepare(),
);

/** The ways of some pieces, each oldest first: time in a state, with the step that led there. */
export const waysOf = (db: Queryable, ids: readonly string[]) => askStays(db, { ids: [...ids] });

type Passed = Awaited<ReturnType<typeof waysOf>>[number];
type Sitting = { name: string; status: SeatStatus };

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
  stops: Stop[];
  /** How it came where it is: the step's name, by whom, with which words. Null at the beginning. */
  arrival: { step: string; by: string | null; note: string } | null;
}

/** Rows as every list draws them, in two statements more, however many there are. */
export async function drawRows<R extends RawRow>(db: Queryable, viewer: Viewer, rows: readonly R[]) {
  if (rows.length === 0) return [];
  const ids = rows.map((row) => row.id);
  const revisions = rows.map((row) => row.workflowRevisionId);
  const [documents, stays, seats] = await Promise.all([
    loadDocuments(db, revisions),
    waysOf(db, ids),
    askSitting(db, { ids }),
  ]);
  const ways = groupBy(stays, (one) => one.pieceId);
  const sitting = groupBy(seats, (one) => one.pieceId);
  return rows.map((row) => {
    const workflow = documents.get(row.workflowRevisionId) as Workflow;
    return drawRow(viewer, workflow, row, ways.get(row.id) ?? [], sitting.get(row.id) ?? []);
  });
}

/** What a row is computed from, and is not sent along. */
type Undrawn = "sectionId" | "authorId" | "workflowRevisionId" | "stateKey";

/** One row as every list draws it. @param way the piece's stays, oldest first @param seats those of its open round */
export function drawRow<R extends RawRow>(
  viewer: Viewer,
  workflow: Workflow,
  row: R,
  way: readonly Passed[],
  seats: readonly Sitting[],
): Omit<R, Undrawn> & PieceRow {
  const { sectionId, authorId, workflowRevisionId, stateKey, ...shown } = row;
  const last = way.at(-1);
  const marks = seats.filter((one) => one.status !== "void");
  return {
    ...shown,
    section: pathName(viewer.places, sectionId),
    state: stateOf(workflow, stateKey).name,
    seats: marks.map((one) => ({ name: one.name, decided: one.status === "decided" })),
    stops: strip(workflow, way, row.dueAt, row.publishAt, viewer.calendar, viewer.now),
    arrival: last?.step ? { step: last.step, by: last.by, note: last.note } : null,
  };
}
