import { and, eq, isNotNull } from "drizzle-orm";
import type { Leg } from "#core/time/plan.ts";
import { groupBy } from "#core/words/group.ts";
import { stateOf, type Workflow } from "#core/workflow/document.ts";
import { strip } from "#core/workflow/drawing/strip.ts";
import { legAt, legsAfter } from "#core/workflow/legs.ts";
import { visible } from "../access/visible.ts";
import type { Queryable } from "../db/client.ts";
import { piece } from "../db/schema/index.ts";
import { loadDocuments } from "../piece/documents.ts";
import type { Viewer } from "../viewer.ts";
import { waysOf } from "./rows.ts";

/** So many pieces with a date are planned to find those that will miss it. */
const PLANNED = 2_000;

/** What lies ahead of a piece: the stops it has still to pass, and when it is expected at the last, where that is too late. */
export interface Ahead {
  way: { legs: readonly Leg[]; since: number; leaves: number };
  expected: number | null;
}

/** What a way ahead is computed from; `at` is when it is wished for. */
export type Wish = {
  pieceId: string;
  stateKey: string;
  since: number;
  dueAt: number | null;
  revisionId: string;
  at: number | null;
};

/** The stops some pieces have still to pass, and when they are expected where that is too late. */
export async function waysAhead(db: Queryable, viewer: Viewer, wishes: readonly Wish[]) {
  const [documents, stays] = await Promise.all([
    loadDocuments(
      db,
      wishes.map((one) => one.revisionId),
    ),
    wishes.length > 0
      ? waysOf(
          db,
          wishes.map((one) => one.pieceId),
        )
      : [],
  ]);
  const byPiece = groupBy(stays, (one) => one.pieceId);
  return new Map(
    wishes.map((one): [string, Ahead] => {
      const workflow = documents.get(one.revisionId) as Workflow;
      const passed = byPiece.get(one.pieceId) ?? [];
      const last = strip(workflow, passed, one.dueAt, one.at, viewer.calendar, viewer.now).at(-1);
      const visited = new Set(passed.map((stay) => stay.stateKey));
      const place = workflow.mainLine.indexOf(one.stateKey);
      const reached = place >= 0 ? place : workflow.mainLine.findLastIndex((key) => visited.has(key));
      const legs = [legAt(stateOf(workflow, one.stateKey)), ...legsAfter(workflow, reached)];
      const leaves = Math.max(viewer.now, one.dueAt ?? viewer.now);
      return [
        one.pieceId,
        { way: { legs, since: one.since, leaves }, expected: last?.late ? (last.expectedAt ?? null) : null },
      ];
    }),
  );
}

/** The pieces in flight a viewer may see that will miss the date wished for at the present pace, by id. */
export async function lateByPlan(db: Queryable, viewer: Viewer): Promise<string[]> {
  const wishes = await db
    .select({
      pieceId: piece.id,
      stateKey: piece.stateKey,
      since: piece.since,
      dueAt: piece.dueAt,
      revisionId: piece.workflowRevisionId,
      at: piece.publishAt,
    })
    .from(piece)
    .where(and(visible(viewer), eq(piece.inFlight, true), isNotNull(piece.publishAt)))
    .orderBy(piece.publishAt, piece.id)
    .limit(PLANNED);
  const ways = await waysAhead(db, viewer, wishes);
  return wishes.flatMap(({ pieceId }) => (ways.get(pieceId)?.expected == null ? [] : pieceId));
}
