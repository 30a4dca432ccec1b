import { and, desc, eq, exists, gte, inArray, isNull, like, lt, or, type SQL, sql } from "drizzle-orm";
import { sayEvent } from "#core/events/catalogue.ts";
import { visible } from "../access/visible.ts";
import type { Queryable } from "../db/client.ts";
import { kind, ledger, person, personGroup, piece, role, section, workflow } from "../db/schema/index.ts";
import type { Viewer } from "../viewer.ts";

const PAGE = 50;
const BATCH = 1_000;

/** What the record is narrowed to. */
export interface LedgerFilter {
  /** The key of who acted, or who it was about. */
  person?: string;
  /** A piece's slug. */
  piece?: string;
  /** What an action's name begins with: `role`, `piece.moved`. */
  action?: string;
  /** Epoch milliseconds; the end is exclusive. */
  from?: number;
  until?: number;
  /** Where the page before ended. */
  before?: number;
}

/** One thing that happened, in words. */
export interface LedgerRow {
  seq: number;
  at: number;
  action: string;
  who: string | null;
  for: string | null;
  words: string;
  /** What it was about, beside the piece. */
  subject: string | null;
  piece: { slug: string; title: string } | null;
  before: unknown;
  after: unknown;
  origin: string;
}

/**
 * A page of the record, the latest first. What concerns a piece the viewer may not see is left out,
 * for private drafts are their author's also here.
 */
export async function readLedger(
  db: Queryable,
  viewer: Viewer,
  filter: LedgerFilter,
): Promise<{ rows: LedgerRow[]; next: number | null }> {
  const found = await entries(db, viewer, filter, PAGE + 1);
  const page = found.slice(0, PAGE);
  return { rows: await inWords(db, page), next: found.length > PAGE ? (page.at(-1)?.seq ?? null) : null };
}

/** Every entry that fits, the latest first, in batches: for a file. */
export async function* exportLedger(db: Queryable, viewer: Viewer, filter: LedgerFilter): AsyncGenerator<Entry[]> {
  for (let before = filter.before; ; ) {
    const batch = await entries(db, viewer, { ...filter, ...(before !== undefined && { before }) }, BATCH);
    if (batch.length > 0) yield batch;
    if (batch.length < BATCH) return;
    before = batch.at(-1)?.seq;
  }
}

type Entry = typeof ledger.$inferSelect;

function entries(db: Queryable, viewer: Viewer, filter: LedgerFilter, limit: number): Promise<Entry[]> {
  const seen = exists(sql`(SELECT 1 FROM ${piece} WHERE ${and(eq(piece.id, ledger.pieceId), visible(viewer))})`);
  const who = filter.person ? sql`(SELECT ${person.id} FROM ${person} WHERE ${eq(person.key, filter.person)})` : null;
  const conditions: (SQL | undefined)[] = [
    or(isNull(ledger.pieceId), seen),
    who
      ? or(sql`${ledger.actorId} = ${who}`, sql`${ledger.subjectId} = ${who}`, sql`${ledger.forId} = ${who}`)
      : undefined,
    filter.piece
      ? sql`${ledger.pieceId} = (SELECT ${piece.id} FROM ${piece} WHERE ${eq(piece.slug, filter.piece)})`
      : undefined,
    filter.action ? like(ledger.action, `${filter.action.replace(/[\\%_]/g, "\\$&")}%`) : undefined,
    filter.from !== undefined ? gte(ledger.at, filter.from) : undefined,
    filter.until !== undefined ? lt(ledger.at, filter.until) : undefined,
    filter.before !== undefined ? lt(ledger.seq, filter.before) : undefined,
  ];
  return db
    .select()
    .from(ledger)
    .where(and(...conditions))
    .orderBy(desc(ledger.seq))
    .limit(limit);
}

async function inWords(db: Queryable, rows: readonly Entry[]): Promise<LedgerRow[]> {
  const people = new Map(
    await namesOf(
      db,
      person,
      rows.flatMap((row) => [row.actorId, row.forId, row.subjectId]),
    ),
  );
  const subjects = new Map(people);
  for (const table of [role, personGroup, section, kind, workflow])
    for (const [id, name] of await namesOf(
      db,
      table,
      rows.map((row) => row.subjectId),
    ))
      subjects.set(id, name);
  const ids = [...new Set(rows.flatMap((row) => row.pieceId ?? []))];
  const pieces =
    ids.length === 0
      ? []
      : await db
          .select({ id: piece.id, slug: piece.slug, title: piece.title })
          .from(piece)
          .where(inArray(piece.id, ids));
  return rows.map((row) => {
    const about = pieces.find((one) => one.id === row.pieceId);
    const gone = (row.before as { name?: string } | null)?.name;
    return {
      seq: row.seq,
      at: row.at,
      action: row.action,
      who: people.get(row.actorId ?? "") ?? null,
      for: people.get(row.forId ?? "") ?? null,
      words: sayEvent(row.action, row.after),
      subject:
        row.subjectId === row.actorId
          ? null
          : (subjects.get(row.subjectId ?? "") ?? (row.pieceId ? null : (gone ?? null))),
      piece: about ? { slug: about.slug, title: about.title } : null,
      before: row.before,
      after: row.after,
      origin: row.origin,
    };
  });
}

async function namesOf(
  db: Queryable,
  table: typeof person | typeof role | typeof personGroup | typeof section | typeof kind | typeof workflow,
  wanted: readonly (string | null)[],
): Promise<[string, string][]> {
  const ids = [...new Set(wanted.flatMap((id) => id ?? []))];
  if (ids.length === 0) return [];
  const rows = await db
    .select({ id: table.id, name: table.name })
    .from(table as typeof person)
    .where(inArray(table.id, ids));
  return rows.map((row) => [row.id, row.name]);
}

/** The actions there are, for choosing one: the sort before the dot, and each whole. */
export async function actionsOnRecord(db: Queryable): Promise<string[]> {
  const rows = await db.selectDistinct({ action: ledger.action }).from(ledger).orderBy(ledger.action);
  const sorts = new Set(rows.map((row) => `${row.action.split(".")[0]}.`));
  return [...sorts, ...rows.map((row) => row.action)].sort();
}
