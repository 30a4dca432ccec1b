import { and, eq, inArray, sql } from "drizzle-orm";
import { alias } from "drizzle-orm/mysql-core";
import { filesBelow } from "#core/text/html.ts";
import type { Queryable } from "../db/client.ts";
import { editionItem, piece, version } from "../db/schema/index.ts";
import { bodyHtml } from "../reader/shown.ts";
import type { Viewer } from "../viewer.ts";
import { boundPieces } from "./contents.ts";

/** What went out with a released edition, as it went out, and what was corrected since. */
export async function wentOut(db: Queryable, viewer: Viewer, editionId: string) {
  const bound = await boundPieces(db, viewer, editionId);
  const since = await correctedSince(
    db,
    editionId,
    bound.map((one) => one.pieceId),
  );
  return bound.map(({ pieceId, slug, part, author, fields, content, words, live }) => ({
    pieceId,
    slug,
    part,
    author,
    title: content.title,
    words,
    /** As it went out, by our own renderer, which escapes everything. */
    html: bodyHtml({ fields, content }, filesBelow("")),
    live,
    corrected: since.has(pieceId),
  }));
}

/** Which pieces of an edition were approved anew, with other words, since it was signed. */
export async function correctedSince(
  db: Queryable,
  editionId: string,
  pieceIds: readonly string[],
): Promise<Map<string, string>> {
  if (pieceIds.length === 0) return new Map();
  const rows = await db
    .select({ pieceId: piece.id, approved: piece.approvedVersionId, now: version.boundHash, before: bound.boundHash })
    .from(editionItem)
    .innerJoin(piece, eq(piece.id, editionItem.pieceId))
    .innerJoin(version, eq(version.id, sql`COALESCE(${piece.liveVersionId}, ${piece.approvedVersionId})`))
    .innerJoin(bound, eq(bound.id, editionItem.versionId))
    .where(
      and(
        eq(editionItem.editionId, editionId),
        inArray(editionItem.pieceId, [...pieceIds]),
        inArray(piece.stateKind, ["ready", "live"]),
      ),
    );
  return new Map(
    rows.flatMap(({ pieceId, approved, now, before }) => (approved && now !== before ? [[pieceId, approved]] : [])),
  );
}

/** The versions an edition was signed with. */
const bound = alias(version, "bound");

/** A piece of a released edition as it went out and as it is now, for who corrects what was handed over; null where nothing differs. */
export async function correctedPiece(db: Queryable, viewer: Viewer, editionId: string, pieceId: string) {
  const [[of], since] = [
    await boundPieces(db, viewer, editionId, (item) => item.pieceId === pieceId),
    await correctedSince(db, editionId, [pieceId]),
  ];
  const versionId = since.get(pieceId);
  const [now] = versionId
    ? await db.select({ content: version.content }).from(version).where(eq(version.id, versionId))
    : [];
  return of && now ? { pieceId, fields: of.fields, before: of.content, after: now.content } : null;
}
