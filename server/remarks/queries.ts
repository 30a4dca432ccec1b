import { inArray, type SQL, sql } from "drizzle-orm";
import type { Settlement } from "#core/remarks/thread.ts";
import type { Anchor } from "#core/text/anchor.ts";
import type { Block } from "#core/text/block.ts";
import type { Queryable } from "../db/client.ts";
import { instantOf } from "../db/schema/columns.ts";
import { comment, person, round, thread } from "../db/schema/index.ts";
import type { Viewer } from "../viewer.ts";

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

/** Rows as the driver gives them: of a thousand remarks the builder would look at each value a dozen times. */
async function rowsOf<R>(db: Queryable, statement: SQL): Promise<R[]> {
  const [rows] = (await db.execute(statement)) as unknown as [R[]];
  return rows;
}

/** A row as the driver gives it: instants and JSON are text. */
type Row<T, Instants extends keyof T, Documents extends keyof T = never> = Omit<T, Instants | Documents> &
  Record<Instants | Documents, string | null>;
type ThreadRow = Row<
  Omit<Told, "comments" | "author" | "round"> & { roundId: string | null },
  "at" | "sentAt" | "pinnedAt" | "settledAt",
  "anchor" | "proposal"
>;
type CommentRow = Row<Omit<Said, "author"> & { threadId: string }, "at" | "editedAt" | "takenBackAt">;

const instantIn = (text: string | null) => (text === null ? null : instantOf(text));
const documentIn = <T>(text: string | null): T | null => (text === null ? null : (JSON.parse(text) as T));

/** In the order of their instants as the database writes them: a thousand rows are put in order here more quickly. */
const oldestFirst = (a: { at: string | null; id: string }, b: { at: string | null; id: string }) =>
  compare(a.at ?? "", b.at ?? "") || compare(a.id, b.id);
const compare = (a: string, b: string) => (a < b ? -1 : Number(a > b));

/** What people are called; who left, or came as a guest, is on no roster. */
async function namesOf(db: Queryable, { roster }: Viewer, ids: ReadonlySet<string>): Promise<Map<string, string>> {
  const names = new Map<string, string>();
  for (const id of ids) {
    const known = roster.people.get(id);
    if (known) names.set(id, known.name);
  }
  const others = [...ids].filter((id) => !names.has(id));
  if (others.length === 0) return names;
  const rows = await db.select({ id: person.id, name: person.name }).from(person).where(inArray(person.id, others));
  for (const { id, name } of rows) names.set(id, name);
  return names;
}

/**
 * What was said of a piece the caller may see, oldest first: everything that was sent, and what the
 * viewer keeps back. Names are looked up apart: joined, the database would walk through everything
 * anybody ever said.
 *
 * @param most only so many: what is kept back and what is open before what is settled
 */
export async function threadsOf(db: Queryable, pieceId: string, viewer: Viewer, most?: number): Promise<Told[]> {
  const seen = sql`${thread.pieceId} = ${pieceId} AND (${thread.sentAt} IS NOT NULL OR ${thread.authorId} = ${viewer.id})`;
  const first =
    most === undefined
      ? sql``
      : sql`ORDER BY ${thread.sentAt} IS NOT NULL, ${thread.settledAt} IS NOT NULL, ${thread.createdAt}, ${thread.id} LIMIT ${most}`;
  const [threads, comments, rounds] = await Promise.all([
    rowsOf<ThreadRow>(
      db,
      sql`SELECT ${thread.id} AS id, ${thread.authorId} AS authorId, ${thread.kind} AS kind, ${thread.field} AS field,
          ${thread.picture} AS picture, CAST(${thread.anchor} AS CHAR) AS anchor, ${thread.madeOn} AS madeOn,
          CAST(${thread.proposal} AS CHAR) AS proposal, ${thread.version} AS version, ${thread.roundId} AS roundId,
          ${thread.createdAt} AS at, ${thread.sentAt} AS sentAt, ${thread.pinnedAt} AS pinnedAt,
          ${thread.settledAt} AS settledAt, ${thread.settledBy} AS settledBy, ${thread.outcome} AS outcome
        FROM ${thread} WHERE ${seen} ${first}`,
    ),
    rowsOf<CommentRow>(
      db,
      sql`SELECT STRAIGHT_JOIN ${comment.id} AS id, ${comment.threadId} AS threadId, ${comment.authorId} AS authorId,
          ${comment.body} AS body, ${comment.createdAt} AS at, ${comment.editedAt} AS editedAt,
          ${comment.takenBackAt} AS takenBackAt
        FROM (SELECT ${thread.id} AS id FROM ${thread} WHERE ${seen} ${first}) AS shown
        INNER JOIN ${comment} ON ${comment.threadId} = shown.id`,
    ),
    rowsOf<{ id: string; number: number }>(
      db,
      sql`SELECT ${round.id} AS id, ${round.number} AS number FROM ${round} WHERE ${round.pieceId} = ${pieceId}`,
    ),
  ]);
  if (threads.length === 0) return [];
  const speaking = [...threads.flatMap((one) => [one.authorId, one.settledBy]), ...comments.map((one) => one.authorId)];
  const names = await namesOf(db, viewer, new Set(speaking.filter((id) => id !== null)));
  const numbers = new Map(rounds.map(({ id, number }) => [id, number]));
  const told = new Map(
    threads.toSorted(oldestFirst).map((one): [string, Told] => [
      one.id,
      {
        id: one.id,
        authorId: one.authorId,
        author: names.get(one.authorId) ?? "",
        kind: one.kind,
        field: one.field,
        picture: one.picture,
        anchor: documentIn(one.anchor),
        madeOn: one.madeOn,
        proposal: documentIn(one.proposal),
        version: one.version,
        round: (one.roundId && numbers.get(one.roundId)) || null,
        at: instantOf(one.at ?? ""),
        sentAt: instantIn(one.sentAt),
        pinnedAt: instantIn(one.pinnedAt),
        settledAt: instantIn(one.settledAt),
        settledBy: one.settledBy && (names.get(one.settledBy) ?? null),
        outcome: one.outcome,
        comments: [],
      },
    ]),
  );
  for (const one of comments.toSorted(oldestFirst))
    told.get(one.threadId)?.comments.push({
      id: one.id,
      authorId: one.authorId,
      author: names.get(one.authorId) ?? "",
      body: one.body,
      at: instantOf(one.at ?? ""),
      editedAt: instantIn(one.editedAt),
      takenBackAt: instantIn(one.takenBackAt),
    });
  return [...told.values()];
}
