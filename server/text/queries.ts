import { and, count, desc, eq, inArray, lt, type SQL, sql } from "drizzle-orm";
import { can } from "#core/access/decide.ts";
import { type Content, isManuscript, total } from "#core/text/fields.ts";
import { textOf } from "#core/text/plain.ts";
import { visible } from "../access/visible.ts";
import type { Queryable } from "../db/client.ts";
import { look, person, piece, version } from "../db/schema/index.ts";
import { filesOf } from "../files/queries.ts";
import { loadFacts } from "../piece/facts.ts";
import { holderOf } from "../piece/holder.ts";
import type { Viewer } from "../viewer.ts";
import { namesIn } from "./names.ts";

/** Coming back within so long is the same look, in milliseconds. */
const SAME_LOOK = 10 * 60_000;
const PAGE = 60;
/** So many versions are searched at once. */
const BATCH = 40;

/** Remembers what a person came to see of a piece, and keeps what they saw the time before. */
export async function noteLook(db: Queryable, viewer: Viewer, pieceId: string): Promise<void> {
  const [[row], [last]] = await Promise.all([
    db.select({ versionId: piece.currentVersionId }).from(piece).where(eq(piece.id, pieceId)),
    db
      .select()
      .from(look)
      .where(and(eq(look.pieceId, pieceId), eq(look.personId, viewer.id))),
  ]);
  if (!row || (last && viewer.now - last.at < SAME_LOOK)) return;
  const seen = { versionId: row.versionId, at: viewer.now };
  const earlierId = last && last.versionId !== row.versionId ? last.versionId : (last?.earlierId ?? null);
  await db
    .insert(look)
    .values({ pieceId, personId: viewer.id, ...seen, earlierId })
    .onDuplicateKeyUpdate({ set: { ...seen, earlierId } });
}

const listed = {
  id: version.id,
  number: version.number,
  at: version.createdAt,
  author: person.name,
  hash: version.hash,
  name: version.name,
  words: version.words,
};

const versionsWhere = (db: Queryable, condition: SQL | undefined) =>
  db
    .select(listed)
    .from(version)
    .innerJoin(person, eq(person.id, version.authorId))
    .where(condition)
    .orderBy(desc(version.number));

/** What somebody asks of a piece's versions. */
export interface VersionsWanted {
  /** The number below which the list goes on; null for the newest. */
  before: number | null;
  /** The numbers of two versions to compare; null for none. */
  pair: readonly [number, number] | null;
  /** Words to look for in all of them. */
  find: string;
}

/** A piece's versions, the newest first, a page at a time, with what is asked of them; null when there is no such piece for the viewer. */
export async function versionsPage(db: Queryable, viewer: Viewer, slug: string, wanted: VersionsWanted) {
  const facts = await loadFacts(db, viewer.places, and(visible(viewer), eq(piece.slug, slug)) as SQL);
  if (!facts) return null;
  const { id, title, liveVersionId, approvedVersionId } = facts.piece;
  const newest = facts.version.number;
  const [rows, [all], [looked], findings] = await Promise.all([
    versionsWhere(
      db,
      and(eq(version.pieceId, id), wanted.before === null ? undefined : lt(version.number, wanted.before)),
    ).limit(PAGE + 1),
    db.select({ versions: count() }).from(version).where(eq(version.pieceId, id)),
    db
      .select({ earlierId: look.earlierId })
      .from(look)
      .where(and(eq(look.pieceId, id), eq(look.personId, viewer.id))),
    wanted.find ? findInVersions(db, id, newest, wanted.find) : null,
  ]);
  // Where nothing is asked for, the last change is shown.
  const [last, earlier] = wanted.before === null && !wanted.find ? rows : [];
  const asked = wanted.pair ?? (last && earlier ? ([earlier.number, last.number] as const) : null);
  const pair = asked && (await versionPair(db, id, asked));
  const contents = (pair ?? []).flatMap((one) => (one ? [one.content] : []));
  const names = await namesIn(db, viewer, facts.kind.fields, contents, pair ? await filesOf(db, id) : []);
  const marks = { looked: looked?.earlierId ?? null, approved: approvedVersionId, live: liveVersionId };
  return {
    piece: { id, title, slug, fields: facts.kind.fields, newest, hash: facts.version.hash },
    editable: can(viewer, "piece.edit", facts.target, viewer.now).allowed,
    versions: rows.slice(0, PAGE).map(({ words, ...row }, i) => {
      const earlier = rows[i + 1];
      return {
        ...row,
        words: total(words),
        /** How many words more or fewer than the version before; null for the first. */
        change: earlier ? total(words) - total(earlier.words) : null,
        live: row.id === liveVersionId,
        approved: row.id === approvedVersionId,
      };
    }),
    more: rows.length > PAGE,
    count: all?.versions ?? 0,
    marks: await numbersOf(db, marks),
    pair,
    names,
    findings,
  };
}

/** The numbers of versions, by what they are marked as. */
async function numbersOf<K extends string>(
  db: Queryable,
  ids: Record<K, string | null>,
): Promise<Record<K, number | null>> {
  const wanted = Object.values<string | null>(ids).filter((id) => id !== null);
  const rows =
    wanted.length > 0
      ? await db.select({ id: version.id, number: version.number }).from(version).where(inArray(version.id, wanted))
      : [];
  const entries = Object.entries<string | null>(ids).map(([key, id]) => [
    key,
    rows.find((row) => row.id === id)?.number ?? null,
  ]);
  return Object.fromEntries(entries);
}

/** Two versions of a piece in full, as they were asked for; null for one that is not there. */
async function versionPair(db: Queryable, pieceId: string, numbers: readonly [number, number]) {
  const rows = await db
    .select({ ...listed, content: version.content })
    .from(version)
    .innerJoin(person, eq(person.id, version.authorId))
    .where(and(eq(version.pieceId, pieceId), inArray(version.number, [...numbers])));
  return numbers.map((number) => rows.find((row) => row.number === number) ?? null);
}

/** Where words once stood in a piece: from which version to which, and in which words around them. */
export interface Finding {
  from: number;
  until: number;
  /** Whether the newest version still has them. */
  still: boolean;
  field: string;
  around: string;
}

/** Finds a sentence that is or once was in a piece, in the newest stretch of versions first. */
async function findInVersions(db: Queryable, pieceId: string, newest: number, words: string): Promise<Finding[]> {
  const wanted = plain(words);
  if (wanted.length < 3) return [];
  // The longest word lets the database leave out most versions unread.
  const [longest = ""] = wanted.match(/[\p{L}\p{N}]+/gu)?.toSorted((a, b) => b.length - a.length) ?? [];
  const found = new Map<string, Finding[]>();
  for (let after = newest + 1; ; ) {
    const rows = await db
      .select({ number: version.number, content: version.content })
      .from(version)
      .where(
        and(
          eq(version.pieceId, pieceId),
          lt(version.number, after),
          sql`LOWER(${version.content}) LIKE ${`%${longest}%`}`,
        ),
      )
      .orderBy(desc(version.number))
      .limit(BATCH);
    for (const { number, content } of rows) {
      for (const [field, text] of textsOf(content)) {
        const around = surroundings(text, wanted);
        if (around === null) continue;
        const stretches = found.get(field) ?? [];
        const last = stretches.at(-1);
        if (last?.from === number + 1) last.from = number;
        else stretches.push({ from: number, until: number, still: number === newest, field, around });
        found.set(field, stretches);
      }
    }
    if (rows.length < BATCH) break;
    after = rows.at(-1)?.number ?? 0;
  }
  return [...found.values()].flat().toSorted((a, b) => b.until - a.until);
}

const plain = (text: string) => text.replace(/\s+/g, " ").trim().toLowerCase();

function* textsOf(content: Content): Generator<[string, string]> {
  yield ["title", content.title];
  for (const [key, value] of Object.entries(content.fields)) {
    if (isManuscript(value)) yield [key, textOf(value as never)];
    else if (typeof value === "string") yield [key, value];
  }
}

function surroundings(text: string, wanted: string): string | null {
  const line = text.replace(/\s+/g, " ");
  const at = line.toLowerCase().indexOf(wanted);
  if (at < 0) return null;
  const [from, to] = [Math.max(0, at - 60), Math.min(line.length, at + wanted.length + 60)];
  return `${from > 0 ? "…" : ""}${line.slice(from, to)}${to < line.length ? "…" : ""}`;
}

/** A piece's present text and who holds it, for a window that writes; null when there is none for the viewer. */
export async function presentText(db: Queryable, viewer: Viewer, slug: string) {
  const [row] = await db
    .select({ ...listed, content: version.content, pieceId: piece.id, revision: piece.revision })
    .from(piece)
    .innerJoin(version, eq(version.id, piece.currentVersionId))
    .innerJoin(person, eq(person.id, version.authorId))
    .where(and(visible(viewer), eq(piece.slug, slug)));
  return row ? { ...row, holder: await holderOf(db, row.pieceId, viewer.now) } : null;
}

/** A piece's versions that a writer sees beside the text: the newest few. */
export const newestVersions = (db: Queryable, pieceId: string, most: number) =>
  versionsWhere(db, eq(version.pieceId, pieceId)).limit(most);
