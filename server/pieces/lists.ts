import {
  and,
  asc,
  count,
  desc,
  eq,
  exists,
  inArray,
  isNotNull,
  isNull,
  like,
  lt,
  notInArray,
  or,
  type SQL,
  sql,
} from "drizzle-orm";
import { can } from "#core/access/decide.ts";
import { below, lineage, pathName } from "#core/sections/tree.ts";
import type { StateKind } from "#core/workflow/document.ts";
import { visible, visibleApart } from "../access/visible.ts";
import type { Queryable } from "../db/client.ts";
import { assignment, kind, person, piece, round, seat, workflow } from "../db/schema/index.ts";
import { loadDocuments } from "../piece/documents.ts";
import type { Viewer } from "../viewer.ts";
import { completeRows, type PieceRow, rowColumns } from "./rows.ts";

/** Nobody works through more in one go; the count beside it says how many there are. */
const TURN_LIMIT = 25;
const PAGE = 25;
const COUNTED = 1_000;
const FINISHED: StateKind[] = ["live", "closed"];

/** What waits on somebody, and what they wait for from others. */
export interface Turn {
  mine: (PieceRow & { asked: "decide" | "write" | "see to" })[];
  others: PieceRow[];
  /** Whether more wait than are listed. */
  more: boolean;
}

/**
 * What waits on the viewer: open seats, pieces assigned to them, drafts of their own that are in
 * writing; due first. Then their own pieces that wait for somebody else.
 */
export async function yourTurn(db: Queryable, viewer: Viewer): Promise<Turn> {
  const ids = await waitingIds(db, viewer);
  const dueFirst = [sql`${piece.dueAt} IS NULL`, asc(piece.dueAt), asc(piece.since), asc(piece.id)];
  const select = (condition: SQL) =>
    db
      .select({ id: piece.id })
      .from(piece)
      .where(and(visible(viewer), condition))
      .orderBy(...dueFirst)
      .limit(TURN_LIMIT + 1);
  const elsewhere = and(eq(piece.authorId, viewer.id), notInArray(piece.stateKind, ["writing", ...FINISHED])) as SQL;
  const [mine, others] = await Promise.all([
    ids.size === 0 ? [] : select(inArray(piece.id, [...ids.keys()])),
    select(elsewhere),
  ]);
  const listed = mine.slice(0, TURN_LIMIT).map((row) => row.id);
  const waitedFor = others.map((row) => row.id).filter((id) => !ids.has(id));
  const rows = await completeRows(db, viewer, await selectRows(db, [...listed, ...waitedFor], dueFirst));
  return {
    mine: rows.filter((row) => listed.includes(row.id)).map((row) => ({ ...row, asked: ids.get(row.id) ?? "see to" })),
    others: rows.filter((row) => waitedFor.includes(row.id)),
    more: mine.length > TURN_LIMIT,
  };
}

/** How many pieces wait on the viewer, and how many of them are late. */
export async function countTurn(db: Queryable, viewer: Viewer): Promise<{ waiting: number; late: number }> {
  const ids = await waitingIds(db, viewer);
  if (ids.size === 0) return { waiting: 0, late: 0 };
  const [row] = await db
    .select({ waiting: count(), late: sql<number>`SUM(${lt(piece.dueAt, viewer.now)})` })
    .from(piece)
    .where(and(visible(viewer), inArray(piece.id, [...ids.keys()])));
  return { waiting: row?.waiting ?? 0, late: Number(row?.late ?? 0) };
}

/** Three small index reads, joined here: one OR over them would read every piece. */
async function waitingIds(db: Queryable, viewer: Viewer): Promise<Map<string, Turn["mine"][number]["asked"]>> {
  const [seats, assigned, drafts] = await Promise.all([
    db
      .selectDistinct({ id: seat.pieceId })
      .from(seat)
      .where(and(eq(seat.personId, viewer.id), eq(seat.status, "open"))),
    db
      .select({ id: assignment.pieceId })
      .from(assignment)
      .innerJoin(piece, eq(piece.id, assignment.pieceId))
      .where(and(eq(assignment.personId, viewer.id), notInArray(piece.stateKind, FINISHED))),
    db
      .select({ id: piece.id })
      .from(piece)
      .where(and(eq(piece.authorId, viewer.id), eq(piece.stateKind, "writing"))),
  ]);
  return new Map([
    ...assigned.map((row) => [row.id, "see to"] as const),
    ...drafts.map((row) => [row.id, "write"] as const),
    ...seats.map((row) => [row.id, "decide"] as const),
  ]);
}

/** What a list of pieces is narrowed to; the words of its address. */
export interface PieceFilter {
  section?: string;
  state?: string;
  author?: string;
  words?: string;
  late?: boolean;
  /** Only what was moved past what its rules ask; only what waits in a review nobody could pass. */
  overridden?: boolean;
  stuck?: boolean;
  /** `flight` leaves out what is live or closed. */
  show?: "flight" | "live" | "all";
  /** Where the page before ended: `SINCE.ID`. */
  after?: string;
}

export interface PiecePage {
  rows: PieceRow[];
  /** How many fit the filter, counted up to a thousand. */
  total: number;
  /** Whether there are more than were counted. */
  more: boolean;
  /** The next page's `after`, or null. */
  next: string | null;
}

/**
 * One page of the pieces a viewer may see, the latest arrivals first. The page's ids are read alone,
 * along the index; joined at once, MariaDB begins with the small tables and sorts every piece. They
 * are counted by each way in which they may be visible.
 */
export async function listPieces(db: Queryable, viewer: Viewer, filter: PieceFilter): Promise<PiecePage> {
  const narrowed = conditions(viewer, filter);
  const where = and(visible(viewer), ...narrowed);
  const latestFirst = [desc(piece.since), desc(piece.id)];
  const apart = visibleApart(viewer).map(
    (way) => sql`(SELECT ${piece.id} FROM ${piece} WHERE ${and(way, ...narrowed)} LIMIT ${COUNTED + 1})`,
  );
  const counted = sql`SELECT COUNT(*) AS pieces FROM (${sql.join(apart, sql` UNION `)} LIMIT ${COUNTED + 1}) AS counted`;
  const [ids, [[total]]] = await Promise.all([
    db
      .select({ id: piece.id })
      .from(piece)
      .where(and(where, after(filter.after)))
      .orderBy(...latestFirst)
      .limit(PAGE + 1),
    db.execute(counted) as unknown as Promise<[{ pieces: number }[]]>,
  ]);
  const page = ids.slice(0, PAGE).map((row) => row.id);
  const rows = await completeRows(db, viewer, await selectRows(db, page, latestFirst));
  const last = rows.at(-1);
  return {
    rows,
    total: Math.min(COUNTED, Number(total?.pieces ?? 0)),
    more: Number(total?.pieces ?? 0) > COUNTED,
    next: ids.length > PAGE && last ? `${last.since}.${last.id}` : null,
  };
}

/** The id of a piece a viewer may see, by its slug; null when there is none for them. */
export async function pieceSeen(db: Queryable, viewer: Viewer, slug: string): Promise<string | null> {
  const [row] = await db
    .select({ id: piece.id })
    .from(piece)
    .where(and(visible(viewer), eq(piece.slug, slug)));
  return row?.id ?? null;
}

/** The columns of a list for these pieces, in the order given. */
async function selectRows(db: Queryable, ids: readonly string[], order: SQL[]) {
  if (ids.length === 0) return [];
  return db
    .select(rowColumns)
    .from(piece)
    .innerJoin(kind, eq(kind.id, piece.kindId))
    .innerJoin(person, eq(person.id, piece.authorId))
    .where(inArray(piece.id, [...ids]))
    .orderBy(...order);
}

/** What the filters can be set to: sections, the states of every workflow, and those who wrote a piece. */
export async function filterChoices(db: Queryable, viewer: Viewer) {
  const current = await db.select({ id: workflow.currentRevisionId }).from(workflow);
  const [documents, authors] = await Promise.all([
    loadDocuments(
      db,
      current.flatMap((row) => row.id ?? []),
    ),
    db
      .select({ key: person.key, name: person.name })
      .from(person)
      .where(exists(sql`(SELECT 1 FROM ${piece} WHERE ${and(eq(piece.authorId, person.id), visible(viewer))})`))
      .orderBy(asc(person.name)),
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

/** The sections and kinds a viewer may begin a piece in. */
export async function beginnings(db: Queryable, viewer: Viewer) {
  const kinds = await db
    .select({ id: kind.id, key: kind.key, name: kind.name, fields: kind.fields })
    .from(kind)
    .orderBy(kind.name);
  const may = (sectionId: string, kindId: string) =>
    can(
      viewer,
      "piece.create",
      { sectionIds: lineage(viewer.places, sectionId).map((one) => one.id), kindId, piece: null },
      viewer.now,
    ).allowed;
  const sections = [...viewer.places.sections.values()]
    .filter((one) => kinds.some((k) => may(one.id, k.id)))
    .map((one) => ({ id: one.id, name: pathName(viewer.places, one.id) }))
    .sort((a, b) => a.name.localeCompare(b.name));
  return { kinds: kinds.filter((k) => sections.some((one) => may(one.id, k.id))), sections };
}

function conditions(viewer: Viewer, filter: PieceFilter): SQL[] {
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
  if (filter.words) found.push(like(piece.title, `%${filter.words.replace(/[\\%_]/g, "\\$&")}%`));
  if (filter.overridden) found.push(isNotNull(piece.overriddenAt));
  if (filter.stuck)
    found.push(
      sql`${piece.id} IN (SELECT ${round.pieceId} FROM ${round} WHERE ${and(isNull(round.closedAt), isNotNull(round.stuck))})`,
    );
  if (filter.late) found.push(lt(piece.dueAt, viewer.now));
  return found.filter((condition) => condition !== undefined);
}

function after(cursor: string | undefined): SQL | undefined {
  const [since, id] = cursor?.split(".") ?? [];
  if (!id || !/^\d{1,15}$/.test(since ?? "")) return undefined;
  return or(lt(piece.since, Number(since)), and(eq(piece.since, Number(since)), lt(piece.id, id)));
}
