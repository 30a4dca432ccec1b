import { and, eq, inArray } from "drizzle-orm";
import { alias } from "drizzle-orm/mysql-core";
import { list } from "#core/words/say.ts";
import { stateOf, type Workflow } from "#core/workflow/document.ts";
import { visible } from "../access/visible.ts";
import type { Queryable } from "../db/client.ts";
import { person, piece, release, round, seat, version } from "../db/schema/index.ts";
import { loadDocuments } from "../piece/documents.ts";
import { OPEN } from "../release/plans.ts";
import type { Viewer } from "../viewer.ts";

/**
 * What somebody of the workshop is told above a piece as readers have it: what is out, what is on its way
 * and whose turn it is; null where they see no more of it than readers do.
 */
export async function inPlaceOf(db: Queryable, viewer: Viewer, slug: string) {
  const out = alias(version, "out");
  const [row] = await db
    .select({
      piece,
      present: version.number,
      out: out.number,
      author: person.name,
      plannedAt: release.at,
      plan: release.status,
    })
    .from(piece)
    .innerJoin(version, eq(version.id, piece.currentVersionId))
    .innerJoin(person, eq(person.id, piece.authorId))
    .leftJoin(out, eq(out.id, piece.liveVersionId))
    .leftJoin(release, and(eq(release.pieceId, piece.id), inArray(release.status, [...OPEN])))
    .where(and(visible(viewer), eq(piece.slug, slug)));
  if (!row) return null;
  const [documents, asked] = await Promise.all([
    loadDocuments(db, [row.piece.workflowRevisionId]),
    db
      .select({ name: person.name })
      .from(seat)
      .innerJoin(round, eq(round.id, seat.roundId))
      .innerJoin(person, eq(person.id, seat.personId))
      .where(and(eq(round.pieceId, row.piece.id), eq(seat.status, "open"))),
  ]);
  const state = stateOf(documents.get(row.piece.workflowRevisionId) as Workflow, row.piece.stateKey);
  const deciding = list(asked.map(({ name }) => name));
  return {
    slug,
    out: row.out,
    outSince: row.piece.liveAt,
    present: row.present,
    state: state.name,
    /** Whose turn it is; empty where it is nobody's. */
    turn: deciding || (state.kind === "writing" ? row.author : ""),
    plan: row.plannedAt === null || row.plan === null ? null : { at: row.plannedAt, status: row.plan },
  };
}

export type InPlace = NonNullable<Awaited<ReturnType<typeof inPlaceOf>>>;
