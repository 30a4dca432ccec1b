import { and, asc, desc, eq, gt, inArray, ne, sql } from "drizzle-orm";
import { sayHold } from "#core/release/preflight.ts";
import type { Queryable } from "../db/client.ts";
import { edition, person } from "../db/schema/index.ts";
import { likelyOfPieces } from "../flow/likely.ts";
import { editionName } from "../release/ahead.ts";
import { loadChannel, seesTo } from "../release/channels.ts";
import type { Viewer } from "../viewer.ts";
import { couldCome } from "./coming.ts";
import { editionContents } from "./contents.ts";
import { type Gathering, isGathering, isSigned, itemsOf, signaturesOf, signsFor, whyLocked } from "./open.ts";
import { wentOut } from "./past.ts";

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
  const ahead = await likelyOfPieces(db, contents ? contents.items.map(({ item }) => item.pieceId) : []);
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
      /** How many of those that may be seen are likely in time: ready, or ready by when it leaves. */
      likely: contents.items.filter(
        ({ item }) =>
          contents.checks.ready.includes(item.pieceId) ||
          (ahead.get(item.pieceId)?.readyAt ?? Number.POSITIVE_INFINITY) <= row.at,
      ).length,
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
