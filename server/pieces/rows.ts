import { and, asc, count, eq, inArray, isNull } from "drizzle-orm";
import { pathName } from "#core/sections/tree.ts";
import { stateOf, type Workflow } from "#core/workflow/document.ts";
import { type Stop, strip } from "#core/workflow/drawing/strip.ts";
import type { Queryable } from "../db/client.ts";
import { comment, kind, person, piece, round, seat, stay } from "../db/schema/index.ts";
import { loadDocuments } from "../piece/documents.ts";
import type { Viewer } from "../viewer.ts";

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
};

type Raw = {
  [K in keyof typeof rowColumns]: (typeof rowColumns)[K]["_"]["notNull"] extends true
    ? (typeof rowColumns)[K]["_"]["data"]
    : (typeof rowColumns)[K]["_"]["data"] | null;
};

/** A seat as the strip draws it. */
export interface SeatMark {
  personId: string;
  name: string;
  decided: boolean;
}

/** One row of a list of pieces, ready to draw. Instants are epoch milliseconds. */
export interface PieceRow extends Raw {
  section: string;
  state: string;
  openComments: number;
  seats: SeatMark[];
  stops: Stop[];
  /** How it came where it is: the step's name, by whom, with which words. Null at the beginning. */
  arrival: { step: string; by: string | null; note: string } | null;
}

/** Completes rows with what every list shows, in five statements however many rows there are. */
export async function completeRows(db: Queryable, viewer: Viewer, rows: Raw[]): Promise<PieceRow[]> {
  if (rows.length === 0) return [];
  const ids = rows.map((row) => row.id);
  const [documents, stays, seats, comments] = await Promise.all([
    loadDocuments(
      db,
      rows.map((row) => row.workflowRevisionId),
    ),
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
      .where(inArray(stay.pieceId, ids))
      .orderBy(asc(stay.arrivedAt), asc(stay.id)),
    db
      .select({ pieceId: seat.pieceId, personId: seat.personId, name: person.name, status: seat.status })
      .from(seat)
      .innerJoin(round, and(eq(round.id, seat.roundId), isNull(round.closedAt)))
      .innerJoin(person, eq(person.id, seat.personId))
      .where(inArray(seat.pieceId, ids))
      .orderBy(asc(seat.position)),
    db
      .select({ pieceId: comment.pieceId, open: count() })
      .from(comment)
      .where(and(inArray(comment.pieceId, ids), isNull(comment.settledAt)))
      .groupBy(comment.pieceId),
  ]);
  const staysOf = byPiece(stays);
  const seatsOf = byPiece(seats);
  const open = new Map(comments.map((one) => [one.pieceId, one.open]));
  return rows.map((row) => {
    const document = documents.get(row.workflowRevisionId) as Workflow;
    const way = staysOf.get(row.id) ?? [];
    const last = way.at(-1);
    const marks = (seatsOf.get(row.id) ?? []).filter((one) => one.status !== "void");
    return {
      ...row,
      section: pathName(viewer.places, row.sectionId),
      state: stateOf(document, row.stateKey).name,
      openComments: open.get(row.id) ?? 0,
      seats: marks.map((one) => ({ personId: one.personId, name: one.name, decided: one.status === "decided" })),
      stops: strip(document, way, row.dueAt, row.publishAt, viewer.calendar, viewer.now),
      arrival: last?.step ? { step: last.step, by: last.by, note: last.note } : null,
    };
  });
}

function byPiece<T extends { pieceId: string }>(rows: readonly T[]): Map<string, T[]> {
  const groups = new Map<string, T[]>();
  for (const row of rows) groups.set(row.pieceId, [...(groups.get(row.pieceId) ?? []), row]);
  return groups;
}
