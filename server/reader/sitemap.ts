import { and, desc, eq, isNull } from "drizzle-orm";
import { SITE } from "#core/release/channel.ts";
import { writeXml } from "#core/words/xml.ts";
import type { Queryable } from "../db/client.ts";
import { piece, released } from "../db/schema/index.ts";
import { archiveMonths } from "./lists.ts";

/** So many addresses a sitemap holds at most (https://www.sitemaps.org/protocol.html). */
const MOST = 50_000;

/** Every address readers can read, as a sitemap. */
export async function sitemap(db: Queryable, baseUrl: string): Promise<string> {
  const [months, pieces] = await Promise.all([
    archiveMonths(db),
    db
      .select({ slug: piece.slug, at: released.from })
      .from(released)
      .innerJoin(piece, eq(piece.id, released.pieceId))
      .where(and(eq(released.channel, SITE), isNull(released.until), isNull(piece.deletedAt)))
      .orderBy(desc(released.from))
      .limit(MOST - 1_000),
  ]);
  const url = (path: string, at?: number) => ({
    name: "url",
    attributes: {},
    children: [
      { name: "loc", attributes: {}, children: [`${baseUrl}${path}`] },
      ...(at === undefined ? [] : [{ name: "lastmod", attributes: {}, children: [new Date(at).toISOString()] }]),
    ],
  });
  return writeXml({
    name: "urlset",
    attributes: { xmlns: "http://www.sitemaps.org/schemas/sitemap/0.9" },
    children: [
      // The latest corrected comes first here, and changed the list last.
      url("/read", pieces[0]?.at),
      ...months.slice(0, 900).map(({ month }) => url(`/read/archive/${month}`)),
      ...pieces.map(({ slug, at }) => url(`/read/${slug}`, at)),
    ],
  });
}
