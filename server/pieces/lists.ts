import {
  and,
  asc,
  count,
  desc,
  eq,
  gt,
  gte,
  inArray,
  isNotNull,
  isNull,
  like,
  lt,
  or,
  type SQL,
  sql,
} from "drizzle-orm";
import type { MySqlColumn } from "drizzle-orm/mysql-core";
import { below, pathName } from "#core/sections/tree.ts";
import { seenBy, visible, visibleApart } from "../access/visible.ts";
import type { Queryable } from "../db/client.ts";
import { kind, person, piece, round, version } from "../db/schema/index.ts";
import { loadDocuments } from "../piece/documents.ts";
import { type Hit, hitsIn, holdsWords } from "../search/queries.ts";
import type { Viewer } from "../viewer.ts";
import { lateByPlan } from "./ahead.ts";
import { drawRows, type PieceRow, rowColumns } from "./rows.ts";

const PAGE = 100;
const COUNTED = 1_000;
/** The instant of the request, where a read is kept for later ones. */
const NOW = sql.param(sql.placeholder("now"), piece.dueAt);

/** What a list of pieces is narrowed to; the words of its address. */
export interface PieceFilter {
  section?: string;
  state?: string;
  author?: string;
  words?: string;
  /** Whether the words are looked for in titles alone. */
  titles?: boolean;
  late?: boolean;
  /** Only what will miss the date wished for at the present pace. */
  planLate?: boolean;
  /** Only what was moved past what its rules ask; only what waits in a review nobody could pass. */
  overridden?: boolean;
  stuck?: boolean;
  /** `flight` leaves out what is live or closed. */
  show?: "flight" | "live" | "all";
  /** Only what arrived where it is in so many days past. */
  within?: number;
  sort?: Sort;
  /** Where the page before ended: `ID.KEY`. */
  after?: string;
}

/** In which order: the latest arrivals, the first due, or by title. */
export const SORTS = ["arrived", "due", "title"] as const;
export type Sort = (typeof SORTS)[number];

/** A filter as a read takes it: what is late by plan is known by then, by id. */
type Filter = Omit<PieceFilter, "after" | "planLate"> & { among?: readonly string[] };
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
  at(row: { since: number; dueAt: number | null; title: string }): string;
}

const KEY = sql.placeholder("key");
const ID = sql.placeholder("id");
const behind = (column: MySqlColumn, value: SQL) => or(gt(column, value), and(eq(column, value), gt(piece.id, ID)));
/** What has no date comes after every date. */
const NEVER = 253_402_300_799_000;
const dueKey = sql<number>`COALESCE(${piece.dueAt}, ${sql.param(NEVER, piece.dueAt)})`;

const ORDERS: Record<Sort, Order> = {
  arrived: {
    by: [desc(piece.since), desc(piece.id)],
    beyond: or(
      lt(piece.since, sql.param(KEY, piece.since)),
      and(eq(piece.since, sql.param(KEY, piece.since)), lt(piece.id, ID)),
    ),
    at: ({ since }) => String(since),
  },
  due: {
    by: [asc(dueKey), asc(piece.id)],
    beyond: sql`(${dueKey} > ${sql.param(KEY, piece.dueAt)} OR (${dueKey} = ${sql.param(KEY, piece.dueAt)} AND ${gt(piece.id, ID)}))`,
    at: ({ dueAt }) => String(dueAt ?? NEVER),
  },
  title: { by: [asc(piece.title), asc(piece.id)], beyond: behind(piece.title, sql`${KEY}`), at: ({ title }) => title },
};

/** The ids come first, in a table of their own, along the index: else MariaDB begins with the small tables and sorts every piece. */
const askPage = seenBy((db, viewer: Viewer, { further, ...filter }: Shape) => {
  const { by, beyond } = ORDERS[filter.sort ?? "arrived"];
  const ids = db
    .select({ id: piece.id })
    .from(piece)
    .where(and(visible(viewer), ...conditions(viewer, filter), further ? beyond : undefined))
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
  const narrowed = conditions(viewer, filter);
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
  const narrowed = "ids" in which ? [inArray(piece.id, [...which.ids])] : conditions(viewer, filter);
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
  const sections = [...viewer.places.sections.values()].map((one) => ({
    key: one.key,
    name: pathName(viewer.places, one.id),
  }));
  const byName = (a: { name: string }, b: { name: string }) => a.name.localeCompare(b.name);
  return {
    states: [...states].map(([key, name]) => ({ key, name })).sort(byName),
    authors,
    sections: sections.sort(byName),
  };
}

/** Finds out what a filter asks that no column says. */
const settled = async (db: Queryable, viewer: Viewer, { planLate, ...filter }: PieceFilter): Promise<Filter> =>
  planLate ? { ...filter, among: await lateByPlan(db, viewer) } : filter;

function conditions(viewer: Viewer, filter: Filter): SQL[] {
  const found: (SQL | undefined)[] = [];
  if (filter.show === "live") found.push(isNotNull(piece.liveVersionId));
  else if (filter.show !== "all") found.push(eq(piece.inFlight, true));
  if (filter.section) {
    const chosen = [...viewer.places.sections.values()].find((one) => one.key === filter.section);
    found.push(inArray(piece.sectionId, chosen ? below(viewer.places, chosen.id) : []));
  }
  if (filter.state) found.push(eq(piece.stateKey, filter.state));
  if (filter.author)
    found.push(sql`${piece.authorId} = (SELECT ${person.id} FROM ${person} WHERE ${person.key} = ${filter.author})`);
  if (filter.words) {
    const inTitle = like(piece.title, `%${filter.words.replace(/[\\%_]/g, "\\$&")}%`);
    const anywhere = filter.titles ? null : holdsWords(filter.words);
    found.push(anywhere ? or(inTitle, anywhere) : inTitle);
  }
  if (filter.within) found.push(gte(piece.since, sql`${NOW} - INTERVAL ${filter.within} DAY`));
  if (filter.overridden) found.push(isNotNull(piece.overriddenAt));
  if (filter.stuck)
    found.push(
      sql`${piece.id} IN (SELECT ${round.pieceId} FROM ${round} WHERE ${and(isNull(round.closedAt), isNotNull(round.stuck))})`,
    );
  if (filter.late) found.push(lt(piece.dueAt, NOW));
  if (filter.among) found.push(inArray(piece.id, [...filter.among]));
  return found.filter((condition) => condition !== undefined);
}

/** Where a page begins: behind which row; null at the first. */
function cursorOf(cursor: string | undefined, sort: Sort): { key: number | string; id: string } | null {
  const [, id = "", key = ""] = /^([0-9a-f-]{36})\.(.+)$/s.exec(cursor ?? "") ?? [];
  if (id === "") return null;
  if (sort === "title") return { key, id };
  return /^\d{1,15}$/.test(key) ? { key: Number(key), id } : null;
}
