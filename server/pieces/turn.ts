import { and, asc, countDistinct, eq, inArray, isNotNull, lt, ne, notInArray, sql } from "drizzle-orm";
import { unionAll } from "drizzle-orm/mysql-core";
import { REMARKS } from "#core/events/catalogue.ts";
import { below } from "#core/sections/tree.ts";
import type { StateKind } from "#core/workflow/document.ts";
import { seenBy, visible } from "../access/visible.ts";
import type { Queryable } from "../db/client.ts";
import { kind, person, piece } from "../db/schema/index.ts";
import { listNotices, unreadBy } from "../notices/queries.ts";
import type { Viewer } from "../viewer.ts";
import { drawRows, type PieceRow, rowColumns } from "./rows.ts";
import { ASKED, type Asked, waitingOn } from "./waiting.ts";

/** So many wait on one page; the next is behind the last of them. */
const TURN_PAGE = 50;
/** So many of one's own that wait for others are listed. */
const OTHERS = 50;
/** So many remarks nobody answered yet are listed. */
const SAID = 10;
/** So many dates a calendar file holds. */
const DATES = 500;
/** The instant of the request, where a read is kept for later ones. */
const NOW = sql.param(sql.placeholder("now"), piece.dueAt);
const FINISHED: StateKind[] = ["live", "closed"];

/** What waits on somebody, and what they wait for from others. */
export interface Turn {
  mine: (PieceRow & { asked: Asked })[];
  others: PieceRow[];
  /** Where the next page begins; null where this is the last. */
  next: string | null;
  /** What was said to them and they have not read yet. */
  said: Awaited<ReturnType<typeof saidTo>>;
}

const dueFirst = [sql`${piece.dueAt} IS NULL`, asc(piece.dueAt), asc(piece.since), asc(piece.id)];

const NEVER = 253_402_300_799_000;
const dueKey = sql`COALESCE(${piece.dueAt}, ${sql.param(NEVER, piece.dueAt)})`;
const DUE = sql.param(sql.placeholder("due"), piece.dueAt);
const SINCE = sql.param(sql.placeholder("since"), piece.since);
const ID = sql.placeholder("id");
/** What comes behind a piece in the order of their dates. */
const beyond = sql`(${dueKey}, ${piece.since}, ${piece.id}) > (${DUE}, ${SINCE}, ${ID})`;

/** What a turn is narrowed to: what is asked, and a section, by its key, with what lies below it. */
export interface TurnWanted {
  asked?: Asked | undefined;
  section?: string | undefined;
}

const askTurn = seenBy((db, viewer: Viewer, { further, asked, section }: TurnWanted & { further: boolean }) => {
  const mineAs = waitingOn(db, viewer.id);
  const root = [...viewer.places.sections.values()].find((one) => one.key === section);
  const within = root && inArray(piece.sectionId, below(viewer.places, root.id));
  const elsewhere = and(
    eq(piece.authorId, viewer.id),
    notInArray(piece.stateKind, ["writing", ...FINISHED]),
    sql`${piece.id} NOT IN ${db.select({ id: mineAs.pieceId }).from(mineAs)}`,
  );
  const mine = db
    .select({ id: piece.id, asked: sql<number | null>`MIN(${mineAs.asked})`.as("reason") })
    .from(mineAs)
    .innerJoin(piece, eq(piece.id, mineAs.pieceId))
    .where(and(visible(viewer), notInArray(piece.stateKind, FINISHED), within, further ? beyond : undefined))
    .groupBy(piece.id)
    .having(asked ? eq(sql`reason`, ASKED.indexOf(asked)) : undefined)
    .orderBy(...dueFirst)
    .limit(TURN_PAGE + 1);
  const others = db
    .select({ id: piece.id, asked: sql<number | null>`NULL`.as("reason") })
    .from(piece)
    .where(and(visible(viewer), elsewhere, within))
    .orderBy(...dueFirst)
    .limit(OTHERS);
  const listed = unionAll(mine, others).as("listed");
  return db
    .select({ ...rowColumns, asked: listed.asked })
    .from(listed)
    .innerJoin(piece, eq(piece.id, listed.id))
    .innerJoin(kind, eq(kind.id, piece.kindId))
    .innerJoin(person, eq(person.id, piece.authorId))
    .orderBy(...dueFirst)
    .prepare();
});

/**
 * What waits on the viewer: open seats, pieces assigned to them, drafts of their own that are in writing; due
 * first. Then their own pieces that wait for somebody else, and what was said to them.
 *
 * @param after where the page before ended, as its `next` says it
 */
export async function yourTurn(
  db: Queryable,
  viewer: Viewer,
  after?: string,
  { asked, section }: TurnWanted = {},
): Promise<Turn> {
  const [, id = "", due = "", since = ""] = /^([0-9a-f-]{36})\.(\d{1,15})\.(\d{1,15})$/.exec(after ?? "") ?? [];
  const behind = { id, due: Number(due || 0), since: Number(since || 0) };
  const [raw, said] = await Promise.all([
    askTurn(db, viewer, { further: id !== "", asked, section }, behind),
    saidTo(db, viewer),
  ]);
  const rows = await drawRows(db, viewer, raw);
  const waitingOn = rows.flatMap((row) => (row.asked === null ? [] : { ...row, asked: ASKED[row.asked] ?? "see to" }));
  const mine = waitingOn.slice(0, TURN_PAGE);
  const last = mine.at(-1);
  return {
    mine,
    others: rows.filter((row) => row.asked === null),
    next: waitingOn.length > TURN_PAGE && last ? `${last.id}.${last.dueAt ?? NEVER}.${last.since}` : null,
    said,
  };
}

/** What was said to the viewer, or asked of them in words, that they have not read yet; the newest first. */
async function saidTo(db: Queryable, viewer: Viewer) {
  const unread = await listNotices(db, viewer, { events: REMARKS, unread: true, most: SAID });
  return unread.filter((one) => one.lead !== null);
}

const askCounts = seenBy((db, viewer: Viewer) => {
  const mineAs = waitingOn(db, viewer.id);
  return db
    .select({
      waiting: countDistinct(piece.id),
      late: countDistinct(sql`CASE WHEN ${lt(piece.dueAt, NOW)} THEN ${piece.id} END`),
      unread: unreadBy(viewer.id),
    })
    .from(mineAs)
    .innerJoin(piece, eq(piece.id, mineAs.pieceId))
    .where(and(visible(viewer), notInArray(piece.stateKind, FINISHED)))
    .prepare();
});

/** How many pieces wait on the viewer, how many of them are late, and how many notices are not read. */
export async function countTurn(db: Queryable, viewer: Viewer) {
  const [row] = await askCounts(db, viewer, null, { now: viewer.now });
  return row ?? { waiting: 0, late: 0, unread: 0 };
}

const askNext = seenBy((db, viewer: Viewer) => {
  const mineAs = waitingOn(db, viewer.id);
  return db
    .select({ slug: piece.slug, title: piece.title, asked: sql<number>`MIN(${mineAs.asked})`.as("reason") })
    .from(mineAs)
    .innerJoin(piece, eq(piece.id, mineAs.pieceId))
    .where(and(visible(viewer), notInArray(piece.stateKind, FINISHED), ne(piece.slug, sql.placeholder("slug"))))
    .groupBy(piece.id)
    .orderBy(...dueFirst)
    .limit(1)
    .prepare();
});

/** The piece that waits on the viewer most, beside the one at hand; null where none does. */
export async function nextOnTurn(db: Queryable, viewer: Viewer, slug: string) {
  const [next] = await askNext(db, viewer, null, { slug });
  return next ? { ...next, asked: ASKED[next.asked] ?? "see to" } : null;
}

const askDates = seenBy((db, viewer: Viewer) => {
  const mineAs = waitingOn(db, viewer.id);
  return db
    .select({
      id: piece.id,
      slug: piece.slug,
      title: piece.title,
      at: piece.dueAt,
      since: piece.since,
      asked: sql<number>`MIN(${mineAs.asked})`.as("reason"),
    })
    .from(mineAs)
    .innerJoin(piece, eq(piece.id, mineAs.pieceId))
    .where(and(visible(viewer), notInArray(piece.stateKind, FINISHED), isNotNull(piece.dueAt)))
    .groupBy(piece.id)
    .orderBy(...dueFirst)
    .limit(DATES)
    .prepare();
});

/** The dates of what waits on the viewer, the first due first. */
export async function dueDates(db: Queryable, viewer: Viewer) {
  const rows = await askDates(db, viewer, null, {});
  return rows.map(({ asked, at, ...row }) => ({ ...row, at: at ?? 0, asked: ASKED[asked] ?? "see to" }));
}
