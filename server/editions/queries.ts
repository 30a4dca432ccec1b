import { and, asc, desc, eq, exists, gt, gte, inArray, isNull, ne, notExists, or, type SQL, sql } from "drizzle-orm";
import { alias } from "drizzle-orm/mysql-core";
import { partFor } from "#core/release/edition.ts";
import { sayHold } from "#core/release/preflight.ts";
import { below } from "#core/sections/tree.ts";
import { filesBelow } from "#core/text/html.ts";
import { visible } from "../access/visible.ts";
import type { Queryable } from "../db/client.ts";
import { edition, editionItem, editionSignature, kind, person, piece, released, version } from "../db/schema/index.ts";
import { bodyHtml } from "../reader/shown.ts";
import { editionName } from "../release/ahead.ts";
import { loadChannel, loadChannels, seesTo } from "../release/channels.ts";
import type { Viewer } from "../viewer.ts";
import { boundPieces, editionContents, sectionsOf, wordsOf } from "./contents.ts";
import {
  type Gathering,
  isGathering,
  isSigned,
  itemsOf,
  signaturesOf,
  signsFor,
  UNDER_WAY,
  whyLocked,
} from "./open.ts";

/** So many past editions are listed at once, so many pieces that could still come, so many to be signed. */
const [PAST, COMING, SIGNED] = [30, 12, 20];
/** What was released within so many milliseconds before could still come. */
const FRESH = 31 * 86_400_000;

/** How many pieces an edition holds; of those a viewer may see how many there are, and how many are approved. */
const counts = (viewer: Viewer) => {
  const inIt = (more: SQL | undefined) =>
    sql<number>`(SELECT COUNT(*) FROM ${editionItem} JOIN ${piece} ON ${piece.id} = ${editionItem.pieceId} WHERE ${and(eq(editionItem.editionId, edition.id), visible(viewer), more)})`.mapWith(
      Number,
    );
  const all = sql<number>`(SELECT COUNT(*) FROM ${editionItem} WHERE ${editionItem.editionId} = ${edition.id})`;
  return { all: all.mapWith(Number), items: inIt(undefined), ready: inIt(inArray(piece.stateKind, ["ready", "live"])) };
};

/** The editions of every channel that gathers them: those under way, and the latest that left. */
export async function editionsList(db: Queryable, viewer: Viewer) {
  const channels = (await loadChannels(db, true)).filter(isGathering);
  const lists = await Promise.all(
    channels.map(async (channel) => {
      const columns = {
        id: edition.id,
        number: edition.number,
        at: edition.at,
        closesAt: edition.closesAt,
        status: edition.status,
        releasedAt: edition.releasedAt,
        holds: edition.holds,
        ...counts(viewer),
      };
      const of = eq(edition.channel, channel.key);
      const [ahead, past] = await Promise.all([
        db
          .select(columns)
          .from(edition)
          .where(and(of, inArray(edition.status, [...UNDER_WAY])))
          .orderBy(asc(edition.at)),
        db
          .select(columns)
          .from(edition)
          .where(and(of, eq(edition.status, "released")))
          .orderBy(desc(edition.at))
          .limit(PAST),
      ]);
      const listed = (rows: typeof ahead) =>
        rows.map(({ holds, ...row }) => ({
          ...row,
          name: editionName(channel.editions, row.number),
          held: row.status === "held" || holds.length > 0,
        }));
      return {
        key: channel.key,
        name: channel.name,
        rhythm: channel.editions.rhythm,
        target: channel.editions.target,
        retired: channel.retired,
        makes: !channel.retired && seesTo(viewer, channel, viewer.places, viewer.now),
        ahead: listed(ahead),
        past: listed(past),
      };
    }),
  );
  return lists.filter((one) => !one.retired || one.past.length > 0);
}

/** The editions that wait for a viewer's signature, or for that of somebody they stand in for: the next to leave first. */
export async function editionsToSign(db: Queryable, viewer: Viewer) {
  const { roster, now, calendar } = viewer;
  const channels = (await loadChannels(db)).filter(isGathering).flatMap((channel) => {
    const signs = channel.people.length > 0 ? signsFor(viewer, channel.people, roster, now, calendar.timeZone) : [];
    return signs.length > 0 ? [{ channel, signs }] : [];
  });
  if (channels.length === 0) return [];
  const rows = await db
    .select({
      id: edition.id,
      channel: edition.channel,
      number: edition.number,
      at: edition.at,
      closesAt: edition.closesAt,
      ...counts(viewer),
    })
    .from(edition)
    .where(
      and(
        inArray(edition.status, ["gathering", "held"]),
        inArray(
          edition.channel,
          channels.map((one) => one.channel.key),
        ),
        exists(db.select({ one: sql`1` }).from(editionItem).where(eq(editionItem.editionId, edition.id))),
      ),
    )
    .orderBy(asc(edition.at))
    .limit(SIGNED);
  if (rows.length === 0) return [];
  const signed = await db
    .select({ editionId: editionSignature.editionId, signerId: editionSignature.signerId })
    .from(editionSignature)
    .where(
      inArray(
        editionSignature.editionId,
        rows.map((row) => row.id),
      ),
    );
  return rows.flatMap((row) => {
    const of = channels.find((one) => one.channel.key === row.channel);
    const isOpen = (id: string) => !signed.some((one) => one.editionId === row.id && one.signerId === id);
    if (!of?.signs.some(isOpen)) return [];
    return [{ ...row, name: editionName(of.channel.editions, row.number) }];
  });
}

/** One edition as its page shows it; null where there is none. */
export async function editionPage(
  db: Queryable,
  viewer: Viewer,
  key: string,
  number: number,
  where: { files: string; baseUrl: string },
) {
  const [row] = await db
    .select()
    .from(edition)
    .where(and(eq(edition.channel, key), eq(edition.number, number), ne(edition.status, "dropped")));
  const channel = row && (await loadChannel(db, key));
  if (!row || !channel || !isGathering(channel)) return null;
  const [items, signatures] = await Promise.all([itemsOf(db, [row.id]), signaturesOf(db, row.id)]);
  const of = { row, channel, items, signatures };
  const { places, now, roster } = viewer;
  const signers = signsFor(viewer, channel.people, roster, now, viewer.calendar.timeZone);
  const sees = seesTo(viewer, channel, places, now);
  const signed = new Set(signatures.map((one) => one.signerId));
  const names = await namesOf(db, [...channel.people, ...signatures.flatMap((one) => [one.personId, one.signerId])]);
  const parts = row.parts ?? channel.editions.parts;
  const [contents, out, coming, around] = await Promise.all([
    row.status === "released" ? null : editionContents(db, viewer, of, where),
    row.status === "released" ? wentOut(db, viewer, row.id) : null,
    row.status !== "released" && sees ? couldCome(db, viewer, channel, row.id) : [],
    neighbours(db, row),
  ]);
  const late = new Map(items.map((item) => [item.pieceId, item.late]));
  return {
    id: row.id,
    revision: row.revision,
    channel: { key, name: channel.name, rhythm: channel.editions.rhythm },
    number,
    name: editionName(channel.editions, number),
    at: row.at,
    closesAt: row.closesAt,
    status: row.status,
    releasedAt: row.releasedAt,
    parts,
    target: channel.editions.target,
    holds: row.holds.flatMap((one) => (one.pieceId === null ? one.holds.map(sayHold) : [])),
    contents: contents && {
      ...contents,
      items: contents.items.map(({ item, holds, ...rest }) => ({
        ...rest,
        pieceId: item.pieceId,
        part: item.part,
        late: late.get(item.pieceId) ?? null,
        holds: holds.map(sayHold),
      })),
    },
    out,
    coming,
    ...around,
    /** Who signs, and who has; where nobody is named, whoever did. */
    signers: (channel.people.length > 0 ? channel.people : [...signed]).map((id) => {
      const signature = signatures.find((one) => one.signerId === id);
      return {
        id,
        name: names.get(id) ?? "somebody who left",
        by: signature && signature.personId !== id ? (names.get(signature.personId) ?? null) : null,
        at: signature?.at ?? null,
      };
    }),
    signed: isSigned(channel, signatures),
    /** Whether the viewer fills and orders it, may sign it now, and for whom. */
    sees,
    closed: now > row.closesAt,
    reopens: signatures.length > 0 && row.status !== "released" && (sees || channel.people.includes(viewer.id)),
    /** The next edition that is being filled, where a piece can be put instead. */
    next: sees && row.status !== "released" ? await nextOf(db, channel, row) : null,
    locked: whyLocked({ ...of, places, actor: viewer })?.sentence ?? null,
    signsNow:
      (row.status === "gathering" || row.status === "held") &&
      (channel.people.length > 0 || sees) &&
      signers.some((id) => !signed.has(id)),
    signsFor: signers.filter((id) => id !== viewer.id && !signed.has(id)).map((id) => names.get(id) ?? ""),
    releases: (row.status === "signed" || row.status === "held") && isSigned(channel, signatures),
  };
}

async function namesOf(db: Queryable, ids: readonly string[]): Promise<Map<string, string>> {
  if (ids.length === 0) return new Map();
  const rows = await db
    .select({ id: person.id, name: person.name })
    .from(person)
    .where(inArray(person.id, [...new Set(ids)]));
  return new Map(rows.map((one) => [one.id, one.name]));
}

/** What went out with a released edition, as it went out, and what was corrected since. */
async function wentOut(db: Queryable, viewer: Viewer, editionId: string) {
  const bound = await boundPieces(db, viewer, editionId);
  const since = await correctedSince(
    db,
    editionId,
    bound.map((one) => one.pieceId),
  );
  return bound.map(({ pieceId, slug, part, author, fields, content, words, live }) => ({
    pieceId,
    slug,
    part,
    author,
    title: content.title,
    words,
    /** As it went out, by our own renderer, which escapes everything. */
    html: bodyHtml({ fields, content }, filesBelow("")),
    live,
    corrected: since.has(pieceId),
  }));
}

/** Which pieces of an edition were approved anew, with other words, since it was signed. */
export async function correctedSince(
  db: Queryable,
  editionId: string,
  pieceIds: readonly string[],
): Promise<Map<string, string>> {
  if (pieceIds.length === 0) return new Map();
  const rows = await db
    .select({ pieceId: piece.id, approved: piece.approvedVersionId, now: version.boundHash, before: bound.boundHash })
    .from(editionItem)
    .innerJoin(piece, eq(piece.id, editionItem.pieceId))
    .innerJoin(version, eq(version.id, sql`COALESCE(${piece.liveVersionId}, ${piece.approvedVersionId})`))
    .innerJoin(bound, eq(bound.id, editionItem.versionId))
    .where(
      and(
        eq(editionItem.editionId, editionId),
        inArray(editionItem.pieceId, [...pieceIds]),
        inArray(piece.stateKind, ["ready", "live"]),
      ),
    );
  return new Map(
    rows.flatMap(({ pieceId, approved, now, before }) => (approved && now !== before ? [[pieceId, approved]] : [])),
  );
}

/** The versions an edition was signed with. */
const bound = alias(version, "bound");

async function nextOf(db: Queryable, channel: Gathering, { at }: typeof edition.$inferSelect) {
  const [row] = await db
    .select({ id: edition.id, number: edition.number })
    .from(edition)
    .where(and(eq(edition.channel, channel.key), eq(edition.status, "gathering"), gt(edition.at, at)))
    .orderBy(asc(edition.at))
    .limit(1);
  return row ? { id: row.id, name: editionName(channel.editions, row.number) } : null;
}

/** The numbers of the editions before and after. */
async function neighbours(db: Queryable, { channel, at }: typeof edition.$inferSelect) {
  const there = and(eq(edition.channel, channel), ne(edition.status, "dropped"));
  const [[before], [after]] = await Promise.all([
    db
      .select({ number: edition.number })
      .from(edition)
      .where(and(there, sql`${edition.at} < ${sql.param(at, edition.at)}`))
      .orderBy(desc(edition.at))
      .limit(1),
    db
      .select({ number: edition.number })
      .from(edition)
      .where(and(there, gt(edition.at, at)))
      .orderBy(asc(edition.at))
      .limit(1),
  ]);
  return { before: before?.number ?? null, after: after?.number ?? null };
}

/** What belongs into a channel's editions, is in none under way, and did not go out with one: ready first. */
export async function couldCome(db: Queryable, viewer: Viewer, channel: Gathering, editionId: string, most = COMING) {
  const { takes } = channel.editions;
  if (takes.length === 0) return [];
  const ways = takes.flatMap(({ kind: kindId, section }) => {
    const inSection = section && viewer.places.sections.has(section) ? below(viewer.places, section) : null;
    if (kindId === null && inSection === null) return [];
    return [
      and(kindId ? eq(piece.kindId, kindId) : undefined, inSection ? inArray(piece.sectionId, inSection) : undefined),
    ];
  });
  if (ways.length === 0) return [];
  const rows = await db
    .select({
      id: piece.id,
      slug: piece.slug,
      title: piece.title,
      kindId: piece.kindId,
      sectionId: piece.sectionId,
      kind: kind.name,
      stateKind: piece.stateKind,
      dueAt: piece.dueAt,
      fields: kind.fields,
      words: version.words,
    })
    .from(piece)
    .innerJoin(kind, eq(kind.id, piece.kindId))
    .innerJoin(version, eq(version.id, piece.currentVersionId))
    .where(
      and(
        visible(viewer),
        or(...ways),
        or(
          inArray(piece.stateKind, ["writing", "review", "ready"]),
          and(eq(piece.stateKind, "live"), gte(piece.since, viewer.now - FRESH)),
        ),
        notExists(
          sql`(SELECT 1 FROM ${editionItem} JOIN ${edition} ON ${edition.id} = ${editionItem.editionId} WHERE ${editionItem.pieceId} = ${piece.id} AND (${edition.id} = ${editionId} OR ${and(eq(edition.channel, channel.key), inArray(edition.status, [...UNDER_WAY]))}))`,
        ),
        notExists(
          db
            .select({ one: sql`1` })
            .from(released)
            .where(and(eq(released.pieceId, piece.id), eq(released.channel, channel.key), isNull(released.until))),
        ),
      ),
    )
    .orderBy(sql`FIELD(${piece.stateKind}, 'ready', 'live', 'review', 'writing')`, asc(piece.dueAt), asc(piece.id))
    .limit(most);
  return rows.map(({ fields, words, kindId, sectionId, stateKind, ...one }) => ({
    ...one,
    ready: stateKind === "ready" || stateKind === "live",
    part: partFor(channel.editions, { kindId, sectionIds: sectionsOf(viewer, sectionId) }),
    words: wordsOf(fields, words),
  }));
}

/** The editions under way a piece could be put into, for who sees to them. */
export async function openEditions(db: Queryable, viewer: Viewer) {
  const channels = (await loadChannels(db)).filter(isGathering);
  const mine = channels.filter((channel) => seesTo(viewer, channel, viewer.places, viewer.now));
  if (mine.length === 0) return [];
  const rows = await db
    .select({
      id: edition.id,
      channel: edition.channel,
      number: edition.number,
      at: edition.at,
      closesAt: edition.closesAt,
    })
    .from(edition)
    .where(
      and(
        eq(edition.status, "gathering"),
        inArray(
          edition.channel,
          mine.map((one) => one.key),
        ),
      ),
    )
    .orderBy(asc(edition.at));
  return rows.map((row) => {
    const channel = mine.find((one) => one.key === row.channel) as Gathering;
    return { ...row, name: editionName(channel.editions, row.number), through: channel.name };
  });
}

/** A piece of a released edition as it went out and as it is now, for who corrects what was handed over; null where nothing differs. */
export async function correctedPiece(db: Queryable, viewer: Viewer, editionId: string, pieceId: string) {
  const [[of], since] = [
    await boundPieces(db, viewer, editionId, (item) => item.pieceId === pieceId),
    await correctedSince(db, editionId, [pieceId]),
  ];
  const versionId = since.get(pieceId);
  const [now] = versionId
    ? await db.select({ content: version.content }).from(version).where(eq(version.id, versionId))
    : [];
  return of && now ? { pieceId, fields: of.fields, before: of.content, after: now.content } : null;
}
