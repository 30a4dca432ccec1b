import { and, desc, eq, ne } from "drizzle-orm";
import { compareContents, wordsChanged } from "#core/text/compare.ts";
import type { Field } from "#core/text/field.ts";
import type { Content } from "#core/text/fields.ts";
import type { Queryable } from "../db/client.ts";
import { decision, round, version } from "../db/schema/index.ts";
import type { PieceFacts } from "../piece/facts.ts";

/** So long texts, in characters with all their marks, are compared while somebody waits for a step; of longer texts it is said that they differ. */
const COMPARED_MOST = 200_000;

/** What differs from the version a review last decided on. */
export interface Differs {
  since: number;
  added: number;
  removed: number;
  /** The names of the fields that differ. */
  fields: string[];
}

/** What of a piece differs from the version that was last decided on where it comes now; null where none was, or nothing does. */
export async function differsSince(
  db: Queryable,
  { piece, kind, version: present }: Pick<PieceFacts, "piece" | "kind" | "version">,
  stateKey: string,
): Promise<Differs | null> {
  const [last] = await db
    .select({ number: version.number, content: version.content })
    .from(decision)
    .innerJoin(round, eq(round.id, decision.roundId))
    .innerJoin(version, eq(version.id, decision.versionId))
    .where(and(eq(round.pieceId, piece.id), eq(round.stateKey, stateKey), ne(version.hash, present.hash)))
    .orderBy(desc(version.number))
    .limit(1);
  return last ? { since: last.number, ...differences(kind.fields, last.content, present.content) } : null;
}

function differences(fields: readonly Field[], before: Content, after: Content): Omit<Differs, "since"> {
  const long = [before, after].some((one) => JSON.stringify(one).length > COMPARED_MOST);
  const compared = long ? [] : compareContents(fields, before, after);
  const changed = compared.filter((one) => one.change.kind !== "same").map((one) => one.name);
  return { ...wordsChanged(compared), fields: changed };
}
