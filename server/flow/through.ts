import { and, eq, gte, inArray, lt, or } from "drizzle-orm";
import { visible } from "../access/visible.ts";
import type { Queryable } from "../db/client.ts";
import { edition, editionItem, piece, release } from "../db/schema/index.ts";
import type { Viewer } from "../viewer.ts";

/** So many that leave through channels are counted at most, of what left and of what will. */
const COUNTED = 20_000;

/** A piece that left through a channel, or is to leave through it, at an instant. */
export interface Through {
  channel: string;
  pieceId: string;
  slug: string;
  title: string;
  kindId: string;
  sectionId: string;
  at: number;
}

/**
 * What left through some channels in a span, and what is planned to: by itself, or with an edition. A piece that leaves
 * through one twice counts once, at its first time.
 *
 * @param span epoch milliseconds; `until` exclusive
 */
export async function throughChannels(
  db: Queryable,
  viewer: Viewer,
  channels: readonly string[],
  { from, until }: { from: number; until: number },
): Promise<{ out: Through[]; ahead: Through[] }> {
  if (channels.length === 0) return { out: [], ahead: [] };
  const named = {
    pieceId: piece.id,
    slug: piece.slug,
    title: piece.title,
    kindId: piece.kindId,
    sectionId: piece.sectionId,
  };
  const [alone, together] = await Promise.all([
    db
      .select({ ...named, channel: release.channel, at: release.at, doneAt: release.doneAt, status: release.status })
      .from(release)
      .innerJoin(piece, eq(piece.id, release.pieceId))
      .where(
        and(
          visible(viewer),
          inArray(release.channel, [...channels]),
          inArray(release.status, ["planned", "proposed", "done"]),
          gte(release.at, from),
          lt(release.at, until),
        ),
      )
      .limit(COUNTED),
    db
      .select({ ...named, channel: edition.channel, at: edition.at, doneAt: edition.releasedAt })
      .from(editionItem)
      .innerJoin(edition, eq(edition.id, editionItem.editionId))
      .innerJoin(piece, eq(piece.id, editionItem.pieceId))
      .where(
        and(
          visible(viewer),
          inArray(edition.channel, [...channels]),
          or(eq(edition.status, "released"), gte(edition.at, viewer.now)),
          gte(edition.at, from),
          lt(edition.at, until),
        ),
      )
      .limit(COUNTED),
  ]);
  const out = new Map<string, Through>();
  const ahead = new Map<string, Through>();
  for (const { doneAt, at, ...one } of [...alone, ...together].sort((a, b) => a.at - b.at)) {
    const key = `${one.channel} ${one.pieceId}`;
    const into = doneAt === null ? ahead : out;
    if (!into.has(key)) into.set(key, { ...one, at: doneAt ?? at });
  }
  return { out: [...out.values()], ahead: [...ahead].flatMap(([key, one]) => (out.has(key) ? [] : [one])) };
}
