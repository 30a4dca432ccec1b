import { and, asc, count, eq, isNull, type SQL } from "drizzle-orm";
import { can, principalsOf, type Target } from "#core/access/decide.ts";
import { lineage } from "#core/sections/tree.ts";
import { type FieldProblem, fieldProblems } from "#core/text/fields.ts";
import { type State, stateOf, type Workflow } from "#core/workflow/document.ts";
import type { Standing } from "#core/workflow/moves.ts";
import type { Person } from "../access/holders.ts";
import type { Queryable } from "../db/client.ts";
import { assignment, checklistPoint, comment, kind, piece, round, seat, version } from "../db/schema/index.ts";
import type { Places } from "../sections/places.ts";
import { loadDocuments } from "./documents.ts";

/** A piece where it is: what every decision about it begins with. */
export interface Piece {
  piece: typeof piece.$inferSelect;
  workflow: Workflow;
  state: State;
  target: Target;
}

/** A piece with everything a step of it may ask for: its text, its kind, what is open. */
export interface PieceFacts extends Piece {
  kind: typeof kind.$inferSelect;
  version: typeof version.$inferSelect;
  fieldProblems: FieldProblem[];
  openComments: number;
  checklist: (typeof checklistPoint.$inferSelect)[];
}

/**
 * A piece where it is, without its text.
 *
 * @param condition selects the piece; a read puts the visibility condition in it
 * @param lock whether the piece's row is kept for this transaction
 */
export async function loadPiece(
  db: Queryable,
  places: Places,
  condition: SQL | undefined,
  lock = false,
): Promise<Piece | null> {
  const query = db.select().from(piece).where(condition).limit(1);
  const [row] = await (lock ? query.for("update") : query);
  if (!row) return null;
  const [people, documents] = await Promise.all([peopleAt(db, row.id), loadDocuments(db, [row.workflowRevisionId])]);
  const workflow = documents.get(row.workflowRevisionId) as Workflow;
  const state = stateOf(workflow, row.stateKey);
  return { piece: row, workflow, state, target: targetOf(row, state, places, people) };
}

/** A piece with everything a step of it may ask for, as {@link loadPiece} finds it. */
export async function loadFacts(
  db: Queryable,
  places: Places,
  condition: SQL | undefined,
  lock = false,
): Promise<PieceFacts | null> {
  const found = await loadPiece(db, places, condition, lock);
  return found && completed(db, found);
}

/** Loads what a piece's step may ask for beside where it is, in as many statements however long its history. */
export async function completed<P extends Piece>(db: Queryable, found: P): Promise<P & PieceFacts> {
  const { piece: row } = found;
  const [[kindRow], [versionRow], [comments], checklist] = await Promise.all([
    db.select().from(kind).where(eq(kind.id, row.kindId)),
    db.select().from(version).where(eq(version.id, row.currentVersionId)),
    db
      .select({ open: count() })
      .from(comment)
      .where(and(eq(comment.pieceId, row.id), isNull(comment.settledAt))),
    checklistOf(db, row.id),
  ]);
  if (!kindRow || !versionRow) throw new Error(`piece ${row.id} has lost its kind or its version`);
  return {
    ...found,
    kind: kindRow,
    version: versionRow,
    fieldProblems: fieldProblems(kindRow.fields, versionRow.content, versionRow.words),
    openComments: comments?.open ?? 0,
    checklist,
  };
}

/** What is to be ticked where a piece is, in order. */
export const checklistOf = (db: Queryable, pieceId: string) =>
  db.select().from(checklistPoint).where(eq(checklistPoint.pieceId, pieceId)).orderBy(asc(checklistPoint.position));

/** Who has a piece: those it is assigned to and those seated in its open review; and all who ever had a seat. */
async function peopleAt(db: Queryable, pieceId: string) {
  const [assigned, seats] = await Promise.all([
    db.select({ id: assignment.personId }).from(assignment).where(eq(assignment.pieceId, pieceId)),
    db
      .select({ id: seat.personId, status: seat.status, closedAt: round.closedAt })
      .from(seat)
      .innerJoin(round, eq(round.id, seat.roundId))
      .where(eq(seat.pieceId, pieceId)),
  ]);
  const sitting = seats.filter((one) => one.closedAt === null && one.status !== "void");
  return {
    assigneeIds: [...new Set([...assigned, ...sitting].map((one) => one.id))],
    seatedIds: [...new Set(seats.map((one) => one.id))],
  };
}

/** A piece in a state as decisions ask about it. */
export function targetOf(
  row: typeof piece.$inferSelect,
  state: State,
  places: Places,
  people: { assigneeIds: string[]; seatedIds: string[] },
): Target {
  return {
    sectionIds: lineage(places, row.sectionId).map((section) => section.id),
    kindId: row.kindId,
    piece: {
      id: row.id,
      authorId: row.authorId,
      private: row.private,
      publishAt: row.publishAt,
      viewers: state.viewers,
      editors: state.editors,
      ...people,
    },
  };
}

/** How a person stands to a piece, for the question what may happen next. */
export function standingOf(facts: PieceFacts, person: Person, now: number): Standing {
  return {
    state: facts.piece.stateKey,
    principals: principalsOf(person, facts.target, now),
    ...lacking(facts),
    maySend: can(person, "piece.send", facts.target, now).allowed,
    mayRelease: can(person, "piece.release", facts.target, now).allowed,
  };
}

/** How a piece stands that the system itself moves on: what it lacks holds all the same. */
export const standingAlone = (facts: PieceFacts): Standing => ({
  state: facts.piece.stateKey,
  principals: new Set(),
  ...lacking(facts),
  maySend: true,
  mayRelease: true,
});

const lacking = (facts: PieceFacts) => ({
  fieldProblems: facts.fieldProblems.map((problem) => problem.sentence),
  openChecklist: facts.checklist.filter((point) => !point.doneBy).map((point) => point.words),
  openComments: facts.openComments,
  publishAt: facts.piece.publishAt,
});
