import { and, asc, count, eq, isNull, type SQL } from "drizzle-orm";
import type { Target } from "#core/access/decide.ts";
import { can, principalsOf } from "#core/access/decide.ts";
import { lineage } from "#core/sections/tree.ts";
import { type FieldProblem, fieldProblems } from "#core/text/fields.ts";
import { type State, stateOf, type Workflow } from "#core/workflow/document.ts";
import type { Standing } from "#core/workflow/moves.ts";
import type { Person } from "../access/holders.ts";
import type { Queryable } from "../db/client.ts";
import { assignment, checklistPoint, comment, kind, piece, seat, version } from "../db/schema/index.ts";
import type { Places } from "../sections/places.ts";
import { loadDocuments } from "../workflows/documents.ts";

/** Everything a decision about a piece may need, read at once and in as many statements however long its history. */
export interface PieceFacts {
  piece: typeof piece.$inferSelect;
  workflow: Workflow;
  state: State;
  kind: typeof kind.$inferSelect;
  version: typeof version.$inferSelect;
  target: Target;
  fieldProblems: FieldProblem[];
  openComments: number;
  checklist: (typeof checklistPoint.$inferSelect)[];
}

/**
 * @param condition selects the piece; a read puts the visibility condition in it
 * @param lock whether the piece's row is kept for this transaction
 */
export async function loadFacts(
  db: Queryable,
  places: Places,
  condition: SQL,
  lock = false,
): Promise<PieceFacts | null> {
  const query = db.select().from(piece).where(condition).limit(1);
  const [row] = await (lock ? query.for("update") : query);
  if (!row) return null;
  const [[kindRow], [versionRow], assigned, seated, [comments], checklist, documents] = await Promise.all([
    db.select().from(kind).where(eq(kind.id, row.kindId)),
    db.select().from(version).where(eq(version.id, row.currentVersionId)),
    db.select({ id: assignment.personId }).from(assignment).where(eq(assignment.pieceId, row.id)),
    db.selectDistinct({ id: seat.personId }).from(seat).where(eq(seat.pieceId, row.id)),
    db
      .select({ open: count() })
      .from(comment)
      .where(and(eq(comment.pieceId, row.id), isNull(comment.settledAt))),
    db.select().from(checklistPoint).where(eq(checklistPoint.pieceId, row.id)).orderBy(asc(checklistPoint.position)),
    loadDocuments(db, [row.workflowRevisionId]),
  ]);
  const workflow = documents.get(row.workflowRevisionId) as Workflow;
  const state = stateOf(workflow, row.stateKey);
  if (!kindRow || !versionRow) throw new Error(`piece ${row.id} has lost its kind or its version`);
  return {
    piece: row,
    workflow,
    state,
    kind: kindRow,
    version: versionRow,
    target: targetOf(row, state, places, {
      assigneeIds: assigned.map((one) => one.id),
      seatedIds: seated.map((one) => one.id),
    }),
    fieldProblems: fieldProblems(kindRow.fields, versionRow.content, versionRow.words),
    openComments: comments?.open ?? 0,
    checklist,
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
    fieldProblems: facts.fieldProblems.map((problem) => problem.sentence),
    openChecklist: facts.checklist.filter((point) => !point.doneBy).map((point) => point.words),
    openComments: facts.openComments,
    publishAt: facts.piece.publishAt,
    maySend: can(person, "piece.send", facts.target, now).allowed,
    mayRelease: can(person, "piece.release", facts.target, now).allowed,
  };
}

/** A piece as notices speak of it. */
export const named = (facts: PieceFacts) => ({ id: facts.piece.id, slug: facts.piece.slug, title: facts.piece.title });
