import { and, desc, eq, gte, inArray, isNotNull, isNull, lt, or } from "drizzle-orm";
import { alias } from "drizzle-orm/mysql-core";
import { SITE } from "#core/release/channel.ts";
import type { Field } from "#core/text/field.ts";
import { type Content, forReaders } from "#core/text/fields.ts";
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
  /** When readers saw it first; lists are in this order. */
  firstLiveAt: number;
  /** Since when they see it as it is now. */
  liveAt: number;
  /** What was corrected with it, for readers; null where it is no correction. */
  correction: string | null;
}

/** So many corrections are told of. */
const CORRECTIONS = 20;

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
  correction: released.correction,
};

/** What readers of the site see now, unless its piece is deleted. */
const onSite = and(eq(released.channel, SITE), isNull(released.until));
const isShown = and(onSite, isNull(piece.deletedAt));

/** What a list of what readers can read is narrowed to: sections, and when it first came out; epoch milliseconds. */
export interface Narrowed {
  sectionIds?: readonly string[];
  from?: number;
  until?: number;
}

/** A place in what readers can read, the newest first: what comes after it is older. */
export type Place = Pick<Released, "firstLiveAt" | "id">;

/**
 * What readers can read, by when it first came out, the newest first; with a place what comes after it. A correction
 * does not move a piece. Needs no viewer: it is the same for everyone. Which pieces they are is read first, along
 * the index; else every live text would be read and sorted.
 */
export async function listReleased(
  db: Queryable,
  limit = 100,
  after?: Place,
  { sectionIds, from, until }: Narrowed = {},
): Promise<Released[]> {
  const newestFirst = [desc(piece.firstLiveAt), desc(piece.id)];
  const newest = db
    .select({ id: piece.id })
    .from(piece)
    .where(
      and(
        isNotNull(piece.liveVersionId),
        isNull(piece.deletedAt),
        after && older(after),
        from === undefined ? undefined : gte(piece.firstLiveAt, from),
        until === undefined ? undefined : lt(piece.firstLiveAt, until),
        sectionIds && inArray(piece.sectionId, [...sectionIds]),
      ),
    )
    .orderBy(...newestFirst)
    .limit(limit)
    .as("newest");
  const rows = select(db).innerJoin(newest, eq(newest.id, piece.id)).where(onSite);
  return asRead(await rows.orderBy(...newestFirst));
}

const older = ({ firstLiveAt, id }: Place) =>
  or(lt(piece.firstLiveAt, firstLiveAt), and(eq(piece.firstLiveAt, firstLiveAt), lt(piece.id, id)));

/** One released piece by its address; null when nothing of it is public. */
export async function readReleased(db: Queryable, slug: string): Promise<Released | null> {
  const rows = await select(db)
    .where(and(isShown, eq(piece.slug, slug)))
    .limit(1);
  return asRead(rows)[0] ?? null;
}

/** What was corrected in a piece since readers see it, the latest first. */
export async function correctionsOf(db: Queryable, pieceId: string): Promise<{ words: string; at: number }[]> {
  const rows = await db
    .select({ words: released.correction, at: released.from })
    .from(released)
    .where(and(eq(released.pieceId, pieceId), eq(released.channel, SITE), isNotNull(released.correction)))
    .orderBy(desc(released.from))
    .limit(CORRECTIONS);
  return rows.map(({ words, at }) => ({ words: words ?? "", at }));
}

/** What readers find in place of a piece that was withdrawn: a sentence, or another piece they see; null where it was not. */
export async function readWithdrawn(
  db: Queryable,
  slug: string,
): Promise<{ notice: string; at: number; instead: string | null } | null> {
  const instead = alias(piece, "instead");
  const [last] = await db
    .select({ notice: released.notice, at: released.until, instead: instead.slug })
    .from(released)
    .innerJoin(piece, eq(piece.id, released.pieceId))
    .leftJoin(
      instead,
      and(eq(instead.id, released.insteadId), isNotNull(instead.liveVersionId), isNull(instead.deletedAt)),
    )
    .where(and(eq(piece.slug, slug), eq(released.channel, SITE), isNull(piece.liveVersionId)))
    .orderBy(desc(released.from))
    .limit(1);
  return last?.at != null && last.notice !== null ? { notice: last.notice, at: last.at, instead: last.instead } : null;
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
