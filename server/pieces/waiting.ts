import { and, eq, sql } from "drizzle-orm";
import { unionAll } from "drizzle-orm/mysql-core";
import type { Queryable } from "../db/client.ts";
import { assignment, piece, seat } from "../db/schema/index.ts";

/** What a piece asks of somebody; the more pressing first, where it asks several things. */
export const ASKED = ["decide", "write", "see to"] as const;
export type Asked = (typeof ASKED)[number];

/**
 * Pieces that may wait on somebody, each once for every reason: a table to join, of three small index reads.
 *
 * @param personId whose
 */
export function waitingOn(db: Queryable, personId: string) {
  const asked = (reason: Asked) => sql<number>`${sql.raw(String(ASKED.indexOf(reason)))}`.as("asked");
  const seats = db
    .select({ pieceId: seat.pieceId, asked: asked("decide") })
    .from(seat)
    .where(and(eq(seat.personId, personId), eq(seat.status, "open")));
  const assigned = db
    .select({ pieceId: assignment.pieceId, asked: asked("see to") })
    .from(assignment)
    .where(eq(assignment.personId, personId));
  const drafts = db
    .select({ pieceId: piece.id, asked: asked("write") })
    .from(piece)
    .where(and(eq(piece.authorId, personId), eq(piece.stateKind, "writing")));
  return unionAll(seats, assigned, drafts).as("waiting");
}
