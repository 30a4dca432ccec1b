import { and, asc, desc, eq, exists, inArray, ne, or, type SQL, sql } from "drizzle-orm";
import { sayHold } from "#core/release/preflight.ts";
import { capital, counted } from "#core/words/say.ts";
import { visible } from "../access/visible.ts";
import type { Queryable } from "../db/client.ts";
import { type EditionHold, edition, editionItem, editionSignature, piece } from "../db/schema/index.ts";
import { editionName } from "../release/ahead.ts";
import { loadChannels, seesTo } from "../release/channels.ts";
import type { Viewer } from "../viewer.ts";
import { type Gathering, isGathering, signsFor, UNDER_WAY } from "./open.ts";

/** So many past editions are listed at once, and so many to be signed. */
const [PAST, SIGNED] = [30, 20];

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

/**
 * The editions that wait for a viewer: for their signature or that of somebody they stand in for, and those held that
 * they see to; the next to leave first.
 */
export async function editionsWaiting(db: Queryable, viewer: Viewer) {
  const { roster, now, calendar } = viewer;
  const channels = (await loadChannels(db)).filter(isGathering).flatMap((channel) => {
    const signs = channel.people.length > 0 ? signsFor(viewer, channel.people, roster, now, calendar.timeZone) : [];
    const sees = seesTo(viewer, channel, viewer.places, now);
    return signs.length > 0 || sees ? [{ channel, signs }] : [];
  });
  if (channels.length === 0) return [];
  const rows = await db
    .select({
      id: edition.id,
      channel: edition.channel,
      number: edition.number,
      at: edition.at,
      closesAt: edition.closesAt,
      status: edition.status,
      holds: edition.holds,
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
  const amiss = await amissIn(db, viewer, rows);
  const signed = await db
    .select({ editionId: editionSignature.editionId, signerId: editionSignature.signerId })
    .from(editionSignature)
    .where(
      inArray(
        editionSignature.editionId,
        rows.map((row) => row.id),
      ),
    );
  return rows.flatMap(({ status, holds, ...row }) => {
    const of = channels.find((one) => one.channel.key === row.channel);
    const isOpen = (id: string) => !signed.some((one) => one.editionId === row.id && one.signerId === id);
    const held = status === "held";
    if (!of?.signs.some(isOpen) && !(held && of)) return [];
    return [{ ...row, name: editionName(of.channel.editions, row.number), held: held ? sayHolds(holds, amiss) : null }];
  });
}

/** The pieces in some editions of which something is amiss, as far as a viewer may see them. */
async function amissIn(
  db: Queryable,
  viewer: Viewer,
  rows: readonly { holds: readonly EditionHold[] }[],
): Promise<Set<string>> {
  const ids = rows.flatMap(({ holds }) => holds.flatMap((one) => one.pieceId ?? []));
  if (ids.length === 0) return new Set();
  const seen = await db
    .select({ id: piece.id })
    .from(piece)
    .where(and(visible(viewer), inArray(piece.id, ids)));
  return new Set(seen.map((row) => row.id));
}

/** Why an edition is held, a sentence each: of the whole, and of how many of the pieces one may see something is amiss. */
function sayHolds(holds: readonly EditionHold[], amiss: ReadonlySet<string>): string[] {
  const pieces = holds.filter((one) => one.pieceId !== null && amiss.has(one.pieceId)).length;
  const said = [
    ...holds.filter((one) => one.pieceId === null).flatMap((one) => one.holds.map(sayHold)),
    ...(pieces > 0 ? [`${capital(counted(pieces, "piece"))} in it ${pieces === 1 ? "is" : "are"} not in order.`] : []),
  ];
  return said.length > 0 ? said : ["Something in it is not in order."];
}

/** The editions that are held, for who leads anything; a signed one that will be, too. */
export async function editionsHeld(db: Queryable, viewer: Viewer) {
  const channels = (await loadChannels(db)).filter(isGathering);
  const rows = await db
    .select({
      id: edition.id,
      channel: edition.channel,
      number: edition.number,
      at: edition.at,
      status: edition.status,
      holds: edition.holds,
    })
    .from(edition)
    .where(or(eq(edition.status, "held"), and(eq(edition.status, "signed"), ne(sql`JSON_LENGTH(${edition.holds})`, 0))))
    .orderBy(asc(edition.at))
    .limit(SIGNED);
  const amiss = await amissIn(db, viewer, rows);
  return rows.flatMap(({ status, holds, ...row }) => {
    const of = channels.find((one) => one.key === row.channel);
    return of
      ? [{ ...row, name: editionName(of.editions, row.number), will: status !== "held", why: sayHolds(holds, amiss) }]
      : [];
  });
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
