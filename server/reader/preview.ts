import { and, eq, type SQL } from "drizzle-orm";
import { forReaders } from "#core/text/fields.ts";
import { filesBelow } from "#core/text/html.ts";
import { visible } from "../access/visible.ts";
import type { Queryable } from "../db/client.ts";
import { kind, person, piece, section, version } from "../db/schema/index.ts";
import type { Viewer } from "../viewer.ts";
import { readersPiece } from "./piece.ts";

/**
 * A version of a piece with what it belongs to; null when there is none for the viewer.
 *
 * @param number the version's number; null for the present one
 */
export async function versionShown(db: Queryable, viewer: Viewer, slug: string, number: number | null) {
  const which = number === null ? eq(version.id, piece.currentVersionId) : eq(version.number, number);
  const [row] = await db
    .select({
      id: piece.id,
      slug: piece.slug,
      content: version.content,
      number: version.number,
      fields: kind.fields,
      section: section.name,
      author: person.name,
      firstLiveAt: piece.firstLiveAt,
      liveAt: piece.liveAt,
      liveVersionId: piece.liveVersionId,
    })
    .from(piece)
    .innerJoin(version, and(eq(version.pieceId, piece.id), which))
    .innerJoin(kind, eq(kind.id, piece.kindId))
    .innerJoin(section, eq(section.id, piece.sectionId))
    .innerJoin(person, eq(person.id, piece.authorId))
    .where(and(visible(viewer), eq(piece.slug, slug)) as SQL);
  return row ?? null;
}

/** A version of a piece as readers will see it, and the number of what they see now; null when there is none for the viewer. */
export async function previewed(db: Queryable, viewer: Viewer, slug: string, number: number | null) {
  const row = await versionShown(db, viewer, slug, number);
  if (!row) return null;
  const [live] = row.liveVersionId
    ? await db.select({ number: version.number }).from(version).where(eq(version.id, row.liveVersionId))
    : [];
  return {
    slug,
    version: row.number,
    live: live?.number ?? null,
    /** What readers would see of it, field by field. */
    fields: forReaders(row.fields),
    content: row.content,
    piece: await readersPiece(db, { ...row, fields: forReaders(row.fields) }, filesBelow("")),
  };
}
