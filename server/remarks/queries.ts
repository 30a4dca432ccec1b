import { type SQL, sql } from "drizzle-orm";
import { type AnyMySqlColumn, alias } from "drizzle-orm/mysql-core";
import type { Settlement } from "#core/remarks/thread.ts";
import type { Anchor } from "#core/text/anchor.ts";
import type { Block } from "#core/text/block.ts";
import type { Queryable } from "../db/client.ts";
import { comment, person, round, thread } from "../db/schema/index.ts";

/** Something that was said in a thread: the remark itself, or a reply to it. */
interface Said {
  id: string;
  authorId: string;
  author: string;
  /** Empty once it was taken back. */
  body: string;
  /** Epoch milliseconds, as all instants here. */
  at: number;
  editedAt: number | null;
  takenBackAt: number | null;
}

/** A thread as its piece's page shows it. */
export interface Told {
  id: string;
  authorId: string;
  author: string;
  kind: string | null;
  field: string | null;
  picture: string | null;
  anchor: Anchor | null;
  madeOn: string | null;
  proposal: Block[] | null;
  version: number;
  /** The number of the round it was made in. */
  round: number | null;
  at: number;
  sentAt: number | null;
  pinnedAt: number | null;
  settledAt: number | null;
  settledBy: string | null;
  outcome: Settlement | null;
  comments: Said[];
}

const settler = alias(person, "settler");
const instant = (column: AnyMySqlColumn) => sql`CAST(UNIX_TIMESTAMP(${column}) * 1000 AS UNSIGNED)`;

/** What somebody keeps back is theirs alone. */
const shown = (pieceId: string, viewerId: string) =>
  sql`${thread.pieceId} = ${pieceId} AND (${thread.sentAt} IS NOT NULL OR ${thread.authorId} = ${viewerId})`;

/** Rows as the driver gives them: of a thousand remarks the builder would look at each value a dozen times. */
async function rowsOf<R>(db: Queryable, statement: SQL): Promise<R[]> {
  const [rows] = (await db.execute(statement)) as unknown as [R[]];
  return rows;
}

/**
 * What was said of a piece the caller may see, oldest first: everything that was sent, and what the
 * viewer keeps back.
 */
export async function threadsOf(db: Queryable, pieceId: string, viewerId: string): Promise<Told[]> {
  const [threads, comments] = await Promise.all([
    rowsOf<Omit<Told, "comments">>(
      db,
      sql`SELECT ${thread.id} AS id, ${thread.authorId} AS authorId, ${person.name} AS author, ${thread.kind} AS kind,
          ${thread.field} AS field, ${thread.picture} AS picture, ${thread.anchor} AS anchor, ${thread.madeOn} AS madeOn,
          ${thread.proposal} AS proposal, ${thread.version} AS version, ${round.number} AS round,
          ${instant(thread.createdAt)} AS at, ${instant(thread.sentAt)} AS sentAt, ${instant(thread.pinnedAt)} AS pinnedAt,
          ${instant(thread.settledAt)} AS settledAt, ${settler.name} AS settledBy, ${thread.outcome} AS outcome
        FROM ${thread}
        INNER JOIN ${person} ON ${person.id} = ${thread.authorId}
        LEFT JOIN ${person} settler ON ${settler.id} = ${thread.settledBy}
        LEFT JOIN ${round} ON ${round.id} = ${thread.roundId}
        WHERE ${shown(pieceId, viewerId)}
        ORDER BY ${thread.createdAt}, ${thread.id}`,
    ),
    rowsOf<Said & { threadId: string }>(
      db,
      sql`SELECT ${comment.id} AS id, ${comment.threadId} AS threadId, ${comment.authorId} AS authorId,
          ${person.name} AS author, ${comment.body} AS body, ${instant(comment.createdAt)} AS at,
          ${instant(comment.editedAt)} AS editedAt, ${instant(comment.takenBackAt)} AS takenBackAt
        FROM ${comment}
        INNER JOIN ${thread} ON ${thread.id} = ${comment.threadId}
        INNER JOIN ${person} ON ${person.id} = ${comment.authorId}
        WHERE ${shown(pieceId, viewerId)}
        ORDER BY ${comment.createdAt}, ${comment.id}`,
    ),
  ]);
  const said = new Map<string, Said[]>(threads.map(({ id }) => [id, []]));
  for (const { threadId, ...one } of comments) said.get(threadId)?.push(one);
  return threads.map((one) => ({ ...one, comments: said.get(one.id) ?? [] }));
}
