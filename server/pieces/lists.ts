import { and, asc, count, desc, eq, gt, inArray, lt, or, type SQL, sql } from "drizzle-orm";
import type { MySqlColumn } from "drizzle-orm/mysql-core";
import { seenBy, visible, visibleApart } from "../access/visible.ts";
import { colleagues, sectionsByKey } from "../choices.ts";
import type { Queryable } from "../db/client.ts";
import { kind, person, piece, version } from "../db/schema/index.ts";
import { loadDocuments } from "../piece/documents.ts";
import { type Hit, hitsIn } from "../search/queries.ts";
import type { Viewer } from "../viewer.ts";
import { conditions, type Filter, type PieceFilter, type Sort, settled } from "./filter.ts";
import { drawRows, type PieceRow, rowColumns } from "./rows.ts";

const PAGE = 100;
const COUNTED = 1_000;
/** What the text of a page's read depends on. */
type Shape = Filter & { further: boolean };

export interface PiecePage {
  rows: (PieceRow & { hit: Hit | null })[];
  /** How many fit the filter, counted up to a thousand. */
  total: number;
  /** Whether there are more than were counted. */
  more: boolean;
  /** The next page's `after`, or null. */
  next: string | null;
}

/** What a list is sorted by, and what comes after the row at which a page ended. */
interface Order {
  by: SQL[];
  beyond: SQL | undefined;
  /** What of a page's last row the next one begins behind. */
  at(row: Ended): string;
}

/** The row at which a page ended. */
type Ended = Pick<PieceRow, "since" | "dueAt" | "publishAt" | "title">;

const KEY = sql.placeholder("key");
const ID = sql.placeholder("id");
const behind = (column: MySqlColumn, value: SQL) => or(gt(column, value), and(eq(column, value), gt(piece.id, ID)));
/** What has no date comes after every date. */
const NEVER = 253_402_300_799_000;
const dueKey = sql<number>`COALESCE(${piece.dueAt}, ${sql.param(NEVER, piece.dueAt)})`;
const publishKey = sql<number>`COALESCE(${piece.publishAt}, ${sql.param(NEVER, piece.publishAt)})`;

const byDate = (key: SQL<number>, dateOf: (row: Ended) => number | null): Order => ({
  by: [asc(key), asc(piece.id)],
  beyond: sql`(${key} > ${sql.param(KEY, piece.dueAt)} OR (${key} = ${sql.param(KEY, piece.dueAt)} AND ${gt(piece.id, ID)}))`,
  at: (row) => String(dateOf(row) ?? NEVER),
});

const ORDERS: Record<Sort, Order> = {
  arrived: {
    by: [desc(piece.since), desc(piece.id)],
    beyond: or(
      lt(piece.since, sql.param(KEY, piece.since)),
      and(eq(piece.since, sql.param(KEY, piece.since)), lt(piece.id, ID)),
    ),
    at: ({ since }) => String(since),
  },
  waits: {
    by: [asc(piece.since), asc(piece.id)],
    beyond: behind(piece.since, sql`${sql.param(KEY, piece.since)}`),
    at: ({ since }) => String(since),
  },
  due: byDate(dueKey, ({ dueAt }) => dueAt),
  publish: byDate(publishKey, ({ publishAt }) => publishAt),
  title: { by: [asc(piece.title), asc(piece.id)], beyond: behind(piece.title, sql`${KEY}`), at: ({ title }) => title },
};

/** The ids come first, in a table of their own, along the index: else MariaDB begins with the small tables and sorts every piece. */
const askPage = seenBy((db, viewer: Viewer, { further, ...filter }: Shape) => {
  const { by, beyond } = ORDERS[filter.sort ?? "arrived"];
  const ids = db
    .select({ id: piece.id })
    .from(piece)
    .where(and(visible(viewer), ...conditions(db, viewer, filter), further ? beyond : undefined))
    .orderBy(...by)
    .limit(PAGE + 1)
    .as("ids");
  return db
    .select(rowColumns)
    .from(ids)
    .innerJoin(piece, eq(piece.id, ids.id))
    .innerJoin(kind, eq(kind.id, piece.kindId))
    .innerJoin(person, eq(person.id, piece.authorId))
    .orderBy(...by)
    .prepare();
});

/** Counted by each way in which they may be visible. */
const askTotal = seenBy((db, viewer: Viewer, filter: Filter) => {
  const narrowed = conditions(db, viewer, filter);
  const ways = visibleApart(viewer).map(
    (way) => sql`(SELECT ${piece.id} FROM ${piece} WHERE ${and(way, ...narrowed)} LIMIT ${COUNTED + 1})`,
  );
  return db
    .select({ pieces: count() })
    .from(sql`(${sql.join(ways, sql` UNION `)} LIMIT ${COUNTED + 1}) AS counted`)
    .prepare();
});

/** One page of the pieces a viewer may see; where words are looked for, with the sentence they stand in. */
export async function listPieces(db: Queryable, viewer: Viewer, { after, ...wanted }: PieceFilter): Promise<PiecePage> {
  const filter = await settled(db, viewer, wanted);
  const sort = filter.sort ?? "arrived";
  const cursor = cursorOf(after, sort);
  const now = { now: viewer.now };
  const [raw, [total]] = await Promise.all([
    askPage(db, viewer, { ...filter, further: cursor !== null }, { ...now, ...(cursor ?? { key: 0, id: "" }) }),
    askTotal(db, viewer, filter, now),
  ]);
  const shown = raw.slice(0, PAGE);
  const [rows, hits] = await Promise.all([
    drawRows(db, viewer, shown),
    filter.words
      ? hitsIn(
          db,
          filter.words,
          shown.map((one) => one.id),
          null,
        )
      : new Map<string, Hit>(),
  ]);
  const last = rows.at(-1);
  const pieces = total?.pieces ?? 0;
  return {
    rows: rows.map((row) => ({ ...row, hit: hits.get(row.id) ?? null })),
    total: Math.min(COUNTED, pieces),
    more: pieces > COUNTED,
    next: raw.length > PAGE && last ? `${last.id}.${ORDERS[sort].at(last)}` : null,
  };
}

/** So many pieces a file holds at most, the first of its order. */
const FILED = 2_000;

/** All pieces that fit a filter, page after page; of many the first two thousand. */
export async function listWhole(db: Queryable, viewer: Viewer, { after: _, ...filter }: PieceFilter) {
  const rows: Awaited<ReturnType<typeof listPieces>>["rows"] = [];
  for (let after: string | null | undefined; after !== null && rows.length < FILED; ) {
    const page = await listPieces(db, viewer, { ...filter, ...(after && { after }) });
    rows.push(...page.rows);
    after = page.next;
  }
  return rows.slice(0, FILED);
}

/** A piece as somebody chose it among others. */
export interface Chosen {
  id: string;
  revision: number;
  hash: string;
}

/**
 * Pieces a viewer may see, by id or all that a list is narrowed to, in the list's order.
 *
 * @param most how many at the most
 */
export async function choose(
  db: Queryable,
  viewer: Viewer,
  which: { ids: readonly string[] } | { filter: PieceFilter },
  most: number,
): Promise<Chosen[]> {
  const filter = "filter" in which ? await settled(db, viewer, which.filter) : {};
  const narrowed = "ids" in which ? [inArray(piece.id, [...which.ids])] : conditions(db, viewer, filter);
  return db
    .select({ id: piece.id, revision: piece.revision, hash: version.hash })
    .from(piece)
    .innerJoin(version, eq(version.id, piece.currentVersionId))
    .where(and(visible(viewer), ...narrowed))
    .orderBy(...ORDERS[filter.sort ?? "arrived"].by)
    .limit(most)
    .prepare()
    .execute({ now: viewer.now });
}

/** The id of a piece a viewer may see, by its slug; null when there is none for them. */
export async function pieceSeen(db: Queryable, viewer: Viewer, slug: string): Promise<string | null> {
  const [row] = await db
    .select({ id: piece.id })
    .from(piece)
    .where(and(visible(viewer), eq(piece.slug, slug)));
  return row?.id ?? null;
}

/** With LIMIT it is asked for each person, along their pieces; as a semi-join every piece would be read. */
const askAuthors = seenBy((db, viewer: Viewer) =>
  db
    .select({ key: person.key, name: person.name })
    .from(person)
    .where(
      sql`(SELECT 1 FROM ${piece} WHERE ${and(eq(piece.authorId, person.id), visible(viewer))} LIMIT 1) IS NOT NULL`,
    )
    .orderBy(asc(person.name))
    .prepare(),
);

/** What the filters can be set to: sections, the states of every workflow, and those who wrote a piece. */
export async function filterChoices(db: Queryable, viewer: Viewer) {
  const [documents, authors] = await Promise.all([
    loadDocuments(db, viewer.revisions),
    askAuthors(db, viewer, null, {}),
  ]);
  const states = new Map(
    [...documents.values()].flatMap((document) => document.states.map((state) => [state.key, state.name])),
  );
  const byName = (a: { name: string }, b: { name: string }) => a.name.localeCompare(b.name);
  return {
    states: [...states].map(([key, name]) => ({ key, name })).sort(byName),
    authors,
    holders: colleagues(viewer).map(({ id, name }) => ({ key: id, name })),
    kinds: viewer.kinds.map(({ key, name }) => ({ key, name })).sort(byName),
    lines: [...new Map([...documents.values()].map(({ key, name }) => [key, { key, name }])).values()].sort(byName),
    sections: sectionsByKey(viewer),
  };
}

/** Where a page begins: behind which row; null at the first. */
function cursorOf(cursor: string | undefined, sort: Sort): { key: number | string; id: string } | null {
  const [, id = "", key = ""] = /^([0-9a-f-]{36})\.(.+)$/s.exec(cursor ?? "") ?? [];
  if (id === "") return null;
  if (sort === "title") return { key, id };
  return /^\d{1,15}$/.test(key) ? { key: Number(key), id } : null;
}
