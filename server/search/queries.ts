import { and, desc, eq, gte, inArray, type SQL, sql } from "drizzle-orm";
import { excerpt, type Stretch, termsOf } from "#core/words/search.ts";
import { visible } from "../access/visible.ts";
import type { Queryable } from "../db/client.ts";
import { person, piece, type Source, searchEntry } from "../db/schema/index.ts";
import type { Viewer } from "../viewer.ts";

/** A place where words were found: whose they are, and the sentence they stand in. */
export interface Hit {
  source: Source;
  by: string | null;
  at: number;
  sentence: Stretch[];
}

/** So many rows are looked at before the best of each piece are taken. */
const LOOKED_AT = 60;

/** The database's own form of a search: every word must stand there, or begin one that does. */
const asked = (terms: readonly string[]) => terms.map((term) => `+${term}*`).join(" ");
const matches = (terms: readonly string[]): SQL =>
  sql`MATCH(${searchEntry.words}) AGAINST (${asked(terms)} IN BOOLEAN MODE)`;

/** The condition that words stand somewhere in a piece; null where the search holds none the index knows. */
export function holdsWords(words: string): SQL | null {
  const terms = termsOf(words);
  return terms.length === 0
    ? null
    : sql`${piece.id} IN (SELECT ${searchEntry.pieceId} FROM ${searchEntry} WHERE ${matches(terms)})`;
}

/** The pieces a viewer may see in which words stand, the best first, each with its best place. */
export async function findWords(
  db: Queryable,
  viewer: Viewer,
  words: string,
  most: number,
): Promise<{ id: string; slug: string; title: string; hit: Hit }[]> {
  const terms = termsOf(words);
  if (terms.length === 0) return [];
  const rows = await db
    .select({ id: piece.id, slug: piece.slug, title: piece.title, ...shown })
    .from(searchEntry)
    .innerJoin(piece, eq(piece.id, searchEntry.pieceId))
    .leftJoin(person, eq(person.id, searchEntry.personId))
    .where(and(visible(viewer), matches(terms)))
    .orderBy(desc(matches(terms)), desc(searchEntry.at))
    .limit(LOOKED_AT);
  const best = new Map<string, (typeof rows)[number]>();
  for (const row of rows) if (!best.has(row.id)) best.set(row.id, row);
  return [...best.values()]
    .slice(0, most)
    .map(({ id, slug, title, ...entry }) => ({ id, slug, title, hit: hitOf(entry, terms) }));
}

/** Where words stand in pieces a list shows already: the best place of each. @param since epoch milliseconds */
export async function hitsIn(
  db: Queryable,
  words: string,
  pieceIds: readonly string[],
  since: number | null,
): Promise<Map<string, Hit>> {
  const terms = termsOf(words);
  if (terms.length === 0 || pieceIds.length === 0) return new Map();
  const rows = await db
    .select({ id: searchEntry.pieceId, ...shown })
    .from(searchEntry)
    .leftJoin(person, eq(person.id, searchEntry.personId))
    .where(
      and(
        inArray(searchEntry.pieceId, [...pieceIds]),
        since === null ? undefined : gte(searchEntry.at, since),
        matches(terms),
      ),
    )
    .orderBy(matches(terms));
  return new Map(rows.map(({ id, ...entry }) => [id, hitOf(entry, terms)]));
}

const shown = { source: searchEntry.source, by: person.name, at: searchEntry.at, words: searchEntry.words };

const hitOf = ({ words, ...where }: Omit<Hit, "sentence"> & { words: string }, terms: readonly string[]): Hit => ({
  ...where,
  sentence: excerpt(words, terms),
});
