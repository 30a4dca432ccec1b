import { and, desc, eq, inArray, isNotNull, isNull } from "drizzle-orm";
import type { Content, Field } from "#core/text/fields.ts";
import type { Queryable } from "../db/client.ts";
import { kind, person, piece, publication, section, version } from "../db/schema/index.ts";

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
  liveAt: piece.liveAt,
};

const isPublic = and(isNotNull(piece.liveVersionId), isNull(piece.deletedAt));

/** What readers can read, the newest first. Needs no viewer: it is the same for everyone. */
export function listReleased(db: Queryable, limit = 100): Promise<Released[]> {
  return released(db).where(isPublic).orderBy(desc(piece.liveAt), desc(piece.id)).limit(limit) as Promise<Released[]>;
}

/** One released piece by its address; null when nothing of it is public. */
export async function readReleased(db: Queryable, slug: string): Promise<Released | null> {
  const [row] = await released(db)
    .where(and(isPublic, eq(piece.slug, slug)))
    .limit(1);
  return (row as Released | undefined) ?? null;
}

/** Those of some pieces that readers can read, by their id. */
export async function releasedAmong(db: Queryable, ids: readonly string[]): Promise<Related> {
  if (ids.length === 0) return new Map();
  const rows = await released(db).where(and(isPublic, inArray(piece.id, [...ids])));
  return new Map(rows.map(({ id, slug, content }) => [id, { slug, title: content.title }]));
}

/** Pieces another one refers to, as readers know them. */
export type Related = ReadonlyMap<string, { slug: string; title: string }>;

/** The publication's name and zone, as readers need them. */
export async function masthead(db: Queryable): Promise<{ name: string; zone: string }> {
  const [row] = await db.select({ name: publication.name, calendar: publication.calendar }).from(publication).limit(1);
  return { name: row?.name ?? "Elenco", zone: row?.calendar.timeZone ?? "UTC" };
}

function released(db: Queryable) {
  return db
    .select(columns)
    .from(piece)
    .innerJoin(version, eq(version.id, piece.liveVersionId))
    .innerJoin(kind, eq(kind.id, piece.kindId))
    .innerJoin(section, eq(section.id, piece.sectionId))
    .innerJoin(person, eq(person.id, piece.authorId));
}
