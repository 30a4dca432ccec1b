import { asc, eq, inArray, type SQL, sql } from "drizzle-orm";
import { type AnyMySqlColumn, unionAll } from "drizzle-orm/mysql-core";
import { can, principalsOf, type Target } from "#core/access/decide.ts";
import { lineage } from "#core/sections/tree.ts";
import { type FieldProblem, fieldProblems } from "#core/text/fields.ts";
import { type State, stateOf, type Workflow } from "#core/workflow/document.ts";
import type { Standing } from "#core/workflow/moves.ts";
import type { Person } from "../access/holders.ts";
import type { Queryable } from "../db/client.ts";
import { prepared } from "../db/prepared.ts";
import { assignment, checklistPoint, kind, piece, round, seat, thread, version } from "../db/schema/index.ts";
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
  const rows = await (lock ? query.for("update") : query);
  const [found] = await placed(db, places, rows);
  return found ?? null;
}

/** Pieces where they are, without their texts. @param condition holds the visibility condition */
export async function loadPieces(db: Queryable, places: Places, condition: SQL | undefined): Promise<Piece[]> {
  return placed(db, places, await db.select().from(piece).where(condition));
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

/** Pieces with everything a step of theirs may ask for, locked in the order of their ids, in as many statements as for one. */
export async function lockFacts(db: Queryable, places: Places, ids: readonly string[]): Promise<PieceFacts[]> {
  if (ids.length === 0) return [];
  const rows = await db
    .select()
    .from(piece)
    .where(inArray(piece.id, [...ids]))
    .orderBy(asc(piece.id))
    .for("update");
  return allCompleted(db, await placed(db, places, rows));
}

/** The same for a read: nothing is locked. @param condition holds the visibility condition */
export async function loadAllFacts(db: Queryable, places: Places, condition: SQL | undefined): Promise<PieceFacts[]> {
  const found = await loadPieces(db, places, condition);
  return found.length === 0 ? [] : allCompleted(db, found);
}

/** Pieces where they are, from their rows. */
async function placed(db: Queryable, places: Places, rows: readonly (typeof piece.$inferSelect)[]): Promise<Piece[]> {
  if (rows.length === 0) return [];
  const revisions = rows.map((row) => row.workflowRevisionId);
  const [people, documents] = await Promise.all([
    peopleAt(
      db,
      rows.map((row) => row.id),
    ),
    loadDocuments(db, revisions),
  ]);
  return rows.map((row) => {
    const workflow = documents.get(row.workflowRevisionId) as Workflow;
    const state = stateOf(workflow, row.stateKey);
    return { piece: row, workflow, state, target: targetOf(row, state, places, people(row.id)) };
  });
}

/** How many remarks on a piece were sent and are not settled, as a column of a read of pieces. */
export const openCommentsOn = (pieceId: AnyMySqlColumn) =>
  sql<number>`(SELECT COUNT(*) FROM ${thread} WHERE ${thread.pieceId} = ${pieceId} AND ${thread.settledAt} IS NULL AND ${thread.sentAt} IS NOT NULL)`.mapWith(
    Number,
  );

/** Which pieces a read is of, asked of the column that holds their ids. */
type Which = (pieceId: AnyMySqlColumn) => SQL;
const oneOf: Which = (pieceId) => eq(pieceId, sql.placeholder("id"));
const among =
  (ids: readonly string[]): Which =>
  (pieceId) =>
    inArray(pieceId, [...ids]);

const texts = (db: Queryable, which: Which) =>
  db
    .select({ pieceId: piece.id, kind, version, openComments: openCommentsOn(piece.id) })
    .from(piece)
    .innerJoin(version, eq(version.id, piece.currentVersionId))
    .innerJoin(kind, eq(kind.id, piece.kindId))
    .where(which(piece.id));
const askText = prepared((db) => texts(db, oneOf).prepare());

const checklists = (db: Queryable, which: Which) =>
  db.select().from(checklistPoint).where(which(checklistPoint.pieceId)).orderBy(asc(checklistPoint.position));
const askChecklist = prepared((db) => checklists(db, oneOf).prepare());

/** What is to be ticked where a piece is, in order. */
export const checklistOf = (db: Queryable, pieceId: string) => askChecklist(db, { id: pieceId });

/** Loads what a piece's step may ask for beside where it is, in as many statements however long its history. */
export async function completed<P extends Piece>(db: Queryable, found: P): Promise<P & PieceFacts> {
  const { id } = found.piece;
  const [[text], checklist] = await Promise.all([askText(db, { id }), checklistOf(db, id)]);
  return complete(found, text, checklist);
}

async function allCompleted(db: Queryable, found: readonly Piece[]): Promise<PieceFacts[]> {
  const which = among(found.map((one) => one.piece.id));
  const [read, points] = await Promise.all([texts(db, which), checklists(db, which)]);
  return found.map((one) => {
    const { id } = one.piece;
    const mine = points.filter((point) => point.pieceId === id);
    return complete(
      one,
      read.find((text) => text.pieceId === id),
      mine,
    );
  });
}

type Text = Awaited<ReturnType<typeof texts>>[number];

function complete<P extends Piece>(
  found: P,
  text: Text | undefined,
  checklist: PieceFacts["checklist"],
): P & PieceFacts {
  if (!text) throw new Error(`piece ${found.piece.id} has lost its kind or its version`);
  const { kind: sort, version: shown, openComments } = text;
  const problems = fieldProblems(sort.fields, shown.content, shown.words);
  return { ...found, kind: sort, version: shown, openComments, fieldProblems: problems, checklist };
}

const people = (db: Queryable, which: Which) =>
  unionAll(
    db
      .select({ pieceId: assignment.pieceId, id: assignment.personId, seated: sql<number>`0`, has: sql<number>`1` })
      .from(assignment)
      .where(which(assignment.pieceId)),
    db
      .select({
        pieceId: seat.pieceId,
        id: seat.personId,
        seated: sql<number>`1`,
        has: sql<number>`${round.closedAt} IS NULL AND ${seat.status} <> 'void'`,
      })
      .from(seat)
      .innerJoin(round, eq(round.id, seat.roundId))
      .where(which(seat.pieceId)),
  );
const askPeople = prepared((db) => people(db, oneOf).prepare());

/** Who has pieces: those they are assigned to and those seated in their open review; and all who ever had a seat. */
async function peopleAt(db: Queryable, pieceIds: readonly string[]) {
  const [id] = pieceIds;
  const rows = await (id && pieceIds.length === 1 ? askPeople(db, { id }) : people(db, among(pieceIds)));
  return (pieceId: string) => {
    const mine = rows.filter((row) => row.pieceId === pieceId);
    const ids = (of: typeof rows) => [...new Set(of.map((row) => row.id))];
    return { assigneeIds: ids(mine.filter((row) => row.has)), seatedIds: ids(mine.filter((row) => row.seated)) };
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
      // What is being signed is changed by nobody.
      editors: state.review?.signed ? [] : state.editors,
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
