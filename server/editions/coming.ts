import { and, asc, eq, gte, inArray, isNotNull, isNull, notExists, or, sql } from "drizzle-orm";
import { partFor } from "#core/release/edition.ts";
import { below } from "#core/sections/tree.ts";
import { visible } from "../access/visible.ts";
import type { Queryable } from "../db/client.ts";
import { edition, editionItem, kind, piece, released, version } from "../db/schema/index.ts";
import type { Viewer } from "../viewer.ts";
import { sectionsOf, wordsOf } from "./contents.ts";
import { type Gathering, UNDER_WAY } from "./open.ts";

/** So many pieces that could still come are shown. */
const COMING = 12;
/** What was released within so many milliseconds before could still come. */
const FRESH = 31 * 86_400_000;

/** What belongs into a channel's editions, is in none under way, and did not go out with one: ready first. */
export async function couldCome(db: Queryable, viewer: Viewer, channel: Gathering, editionId: string, most = COMING) {
  const { takes } = channel.editions;
  if (takes.length === 0) return [];
  const ways = takes.flatMap(({ kind: kindId, section }) => {
    const inSection = section && viewer.places.sections.has(section) ? below(viewer.places, section) : null;
    if (kindId === null && inSection === null) return [];
    return [
      and(kindId ? eq(piece.kindId, kindId) : undefined, inSection ? inArray(piece.sectionId, inSection) : undefined),
    ];
  });
  if (ways.length === 0) return [];
  const rows = await db
    .select({
      id: piece.id,
      slug: piece.slug,
      title: piece.title,
      kindId: piece.kindId,
      sectionId: piece.sectionId,
      kind: kind.name,
      stateKind: piece.stateKind,
      dueAt: piece.dueAt,
      fields: kind.fields,
      words: version.words,
    })
    .from(piece)
    .innerJoin(kind, eq(kind.id, piece.kindId))
    .innerJoin(version, eq(version.id, piece.currentVersionId))
    .where(
      and(
        visible(viewer),
        or(...ways),
        or(
          inArray(piece.stateKind, ["writing", "review", "ready"]),
          // What was withdrawn is still in its live state, but no readers see it.
          and(
            eq(piece.stateKind, "live"),
            gte(piece.since, viewer.now - FRESH),
            or(isNotNull(piece.liveVersionId), isNull(piece.firstLiveAt)),
          ),
        ),
        notExists(
          sql`(SELECT 1 FROM ${editionItem} JOIN ${edition} ON ${edition.id} = ${editionItem.editionId} WHERE ${editionItem.pieceId} = ${piece.id} AND (${edition.id} = ${editionId} OR ${and(eq(edition.channel, channel.key), inArray(edition.status, [...UNDER_WAY]))}))`,
        ),
        notExists(
          db
            .select({ one: sql`1` })
            .from(released)
            .where(and(eq(released.pieceId, piece.id), eq(released.channel, channel.key), isNull(released.until))),
        ),
      ),
    )
    .orderBy(sql`FIELD(${piece.stateKind}, 'ready', 'live', 'review', 'writing')`, asc(piece.dueAt), asc(piece.id))
    .limit(most);
  return rows.map(({ fields, words, kindId, sectionId, stateKind, ...one }) => ({
    ...one,
    ready: stateKind === "ready" || stateKind === "live",
    part: partFor(channel.editions, { kindId, sectionIds: sectionsOf(viewer, sectionId) }),
    words: wordsOf(fields, words),
  }));
}
