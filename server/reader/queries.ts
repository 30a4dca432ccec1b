import { and, desc, eq, inArray, isNull } from "drizzle-orm";
import { type Content, type Field, forReaders } from "#core/text/fields.ts";
import type { Queryable } from "../db/client.ts";
import { kind, person, piece, publication, released, section, version } from "../db/schema/index.ts";

/** A released piece as readers see it: the live version's words, never the draft's. */
export interface Released {
  id: string;
  slug: string;
  kind: string;
  section: string;
  author: string;
  content: Content;
  fields: Field[];
  firstLiveAt: number;
  liveAt: number;
}

const columns = {
  id: piece.id,
  slug: piece.slug,
  kind: kind.name,
  section: section.name,
  author: person.name,
  content: version.content,
  fields: kind.fields,
  firstLiveAt: piece.firstLiveAt,
  liveAt: released.from,
};

/** What readers of the site see now. */
const isShown = and(eq(released.channel, "site"), isNull(released.until), isNull(piece.deletedAt));

/** What readers can read, the newest first. Needs no viewer: it is the same for everyone. */
export async function listReleased(db: Queryable, limit = 100): Promise<Released[]> {
  return asRead(await select(db).where(isShown).orderBy(desc(released.from), desc(released.id)).limit(limit));
}

/** One released piece by its address; null when nothing of it is public. */
export async function readReleased(db: Queryable, slug: string): Promise<Released | null> {
  const rows = await select(db)
    .where(and(isShown, eq(piece.slug, slug)))
    .limit(1);
  return asRead(rows)[0] ?? null;
}

/** What readers find in place of a piece that was withdrawn; null where it was not. */
export async function readWithdrawn(db: Queryable, slug: string): Promise<{ notice: string; at: number } | null> {
  const [last] = await db
    .select({ notice: released.notice, at: released.until })
    .from(released)
    .innerJoin(piece, eq(piece.id, released.pieceId))
    .where(and(eq(piece.slug, slug), eq(released.channel, "site"), isNull(piece.liveVersionId)))
    .orderBy(desc(released.from))
    .limit(1);
  return last?.at != null && last.notice !== null ? { notice: last.notice, at: last.at } : null;
}

/** Those of some pieces that readers can read, by their id. */
export async function releasedAmong(db: Queryable, ids: readonly string[]): Promise<Related> {
  if (ids.length === 0) return new Map();
  const rows = await select(db).where(and(isShown, inArray(piece.id, [...ids])));
  return new Map(rows.map(({ id, slug, content }) => [id, { slug, title: content.title }]));
}

/** Pieces another one refers to, as readers know them. */
export type Related = ReadonlyMap<string, { slug: string; title: string }>;

/** The publication's name and zone, as readers need them. */
export async function masthead(db: Queryable): Promise<{ name: string; zone: string }> {
  const [row] = await db.select({ name: publication.name, calendar: publication.calendar }).from(publication).limit(1);
  return { name: row?.name ?? "Elenco", zone: row?.calendar.timeZone ?? "UTC" };
}

function select(db: Queryable) {
  return db
    .select(columns)
    .from(released)
    .innerJoin(piece, eq(piece.id, released.pieceId))
    .innerJoin(version, eq(version.id, released.versionId))
    .innerJoin(kind, eq(kind.id, piece.kindId))
    .innerJoin(section, eq(section.id, piece.sectionId))
    .innerJoin(person, eq(person.id, piece.authorId));
}

/** As readers see it: free fields are for the workshop alone. */
const asRead = (rows: Awaited<ReturnType<typeof select>>): Released[] =>
  rows.map((row) => ({ ...row, fields: forReaders(row.fields), firstLiveAt: row.firstLiveAt ?? row.liveAt }));
