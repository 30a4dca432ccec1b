import { and, eq, ne, or, type SQL, sql } from "drizzle-orm";
import type { MySqlColumn, MySqlTable } from "drizzle-orm/mysql-core";
import { hashOf } from "#core/ledger/chain.ts";
import type { Field } from "#core/text/field.ts";
import { boundContent, type Content, countFields } from "#core/text/fields.ts";
import type { Queryable } from "../db/client.ts";
import { newId } from "../db/schema/columns.ts";
import { decision, editionItem, look, piece, release, released, version } from "../db/schema/index.ts";

type VersionRow = typeof version.$inferSelect;

/** After a pause of so long the next words begin a new version, in milliseconds. */
const PAUSE = 10 * 60_000;

/** A version's row; its hash is over the canonical JSON of its content. */
export function versionRow(
  pieceId: string,
  number: number,
  content: Content,
  fields: readonly Field[],
  by: { authorId: string; createdAt: number },
): VersionRow {
  const hash = hashOf(content);
  const bound = boundContent(fields, content);
  const boundHash = bound === content ? hash : hashOf(bound);
  return { id: newId(), pieceId, number, content, words: countFields(content), hash, boundHash, ...by, name: null };
}

/**
 * Whether further words of a person go on in a version rather than begin another: they wrote its
 * last ones, without a pause since, nobody gave it a name, and nobody relies on it.
 *
 * @param since when the piece came into its state: what it came with was handed over
 */
export async function goesOn(
  db: Queryable,
  last: VersionRow,
  { personId, since, now }: { personId: string; since: number; now: number },
): Promise<boolean> {
  const pausedAt = now - PAUSE;
  if (last.authorId !== personId || last.name !== null || last.createdAt <= Math.max(since, pausedAt)) return false;
  return !(await isReliedOn(db, last));
}

/** Where a version is named by somebody who relies on it; thinning and writing on both leave such a one alone. */
export const RELIANCES: readonly Reliance[] = [
  [decision, decision.versionId],
  [release, release.versionId],
  [piece, piece.liveVersionId],
  [piece, piece.approvedVersionId],
  [released, released.versionId],
  [editionItem, editionItem.versionId],
  [look, look.earlierId],
];

/** A table and its column that names a version. */
export type Reliance = readonly [MySqlTable, MySqlColumn];

/** The SQL condition that a row of `version` is named there. */
export const isNamed = ([table, column]: Reliance, more?: SQL): SQL =>
  sql`EXISTS (SELECT 1 FROM ${table} WHERE ${and(eq(column, version.id), more)})`;

/** Whether a version was decided on, planned, released, or seen by somebody else. */
async function isReliedOn(db: Queryable, { id, authorId }: VersionRow): Promise<boolean> {
  const byOthers = isNamed([look, look.versionId], ne(look.personId, authorId));
  const [found] = await db
    .select({ relied: or(...RELIANCES.map((one) => isNamed(one)), byOthers) as SQL<number> })
    .from(version)
    .where(eq(version.id, id));
  return Number(found?.relied ?? 0) === 1;
}
