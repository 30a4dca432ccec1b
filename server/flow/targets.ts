import { and, asc, desc, eq, gte, isNull, lt, or, sql } from "drizzle-orm";
import { z } from "zod";
import { targetDropped, targetSet } from "#core/events/flow.ts";
import { keptBy, outcomeOf, shareGone, shareStanding } from "#core/flow/target.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { SITE } from "#core/release/channel.ts";
import { below } from "#core/sections/tree.ts";
import { dayAfter, localDate, startOf } from "#core/time/local.ts";
import { administering } from "../access/administer.ts";
import { visible } from "../access/visible.ts";
import type { Named } from "../choices.ts";
import type { Queryable } from "../db/client.ts";
import { newId } from "../db/schema/columns.ts";
import { kind, likely, piece, section, target } from "../db/schema/index.ts";
import { text } from "../piece/input.ts";
import { loadChannels } from "../release/channels.ts";
import { loadPlaces } from "../sections/places.ts";
import type { Viewer } from "../viewer.ts";
import type { Act } from "../write.ts";
import { type Through, throughChannels } from "./through.ts";

/** So many targets there are at once, and so many past ones are shown. */
const [TARGETS, PAST] = [100, 12];
/** A period is so long at most, in days. */
const LONGEST = 400;

const nothing = z.literal("").transform(() => null);
const day = z.iso.date("Choose a day.");

export const targetInput = z.object({
  name: text("What is it called?", 80),
  wanted: z.coerce.number("How many?").int("A whole number.").min(1, "At least one.").max(10_000, "At most 10000."),
  share: z.union([nothing.transform(() => false), z.literal("time").transform(() => true), z.boolean()]).default(false),
  kindId: z.union([nothing, z.uuid()]).default(null),
  sectionId: z.union([nothing, z.uuid()]).default(null),
  channel: z.union([nothing, z.string().max(20)]).default(null),
  from: day,
  until: day,
});

/** Sets a target: so many pieces that are to reach readers, or leave through a channel, in a period; or a share in time. */
export function setTarget(act: Act, wanted: z.output<typeof targetInput>): Promise<Result<null>> {
  return administering<null>(act, "publication.edit", async ({ tx, now, happened }) => {
    const { calendar } = await loadPlaces(tx);
    const { from, until, kindId, sectionId, channel, share } = wanted;
    const amiss = (field: string, sentence: string) => refuse({ code: "period", field, sentence });
    if (until < from) return amiss("until", "It ends before it begins.");
    if (until < localDate(now, calendar.timeZone)) return amiss("until", "It lies in the past.");
    if (dayAfter(from, LONGEST) < until) return amiss("until", "A period is some thirteen months long at most.");
    if (kindId !== null && !(await tx.$count(kind, eq(kind.id, kindId))))
      return amiss("kindId", "There is no such kind.");
    if (sectionId !== null && !(await tx.$count(section, eq(section.id, sectionId))))
      return amiss("sectionId", "There is no such section.");
    if (share && wanted.wanted > 100) return amiss("wanted", "Of a hundred, at most 100.");
    if (share && channel !== null)
      return amiss("channel", "A share in time goes by the dates wished for, through whichever channel.");
    if (channel !== null && !(await targetChannels(tx)).some((one) => one.id === channel))
      return amiss("channel", "Nothing leaves through that channel.");
    if ((await tx.$count(target)) >= TARGETS)
      return refuse({ code: "full", sentence: `There are ${TARGETS} targets already. Do away with one first.` });
    const id = newId();
    await tx.insert(target).values({ id, ...wanted });
    happened(targetSet, { name: wanted.name, wanted: wanted.wanted, share, from, until }, { subjectId: id });
    return accept(null);
  });
}

/** The channels a target may be set for: the team's own. What the reader site shows first is meant where none is named. */
export const targetChannels = async (db: Queryable): Promise<Named[]> =>
  (await loadChannels(db)).filter(({ key }) => key !== SITE).map(({ key, name }) => ({ id: key, name }));

export const ofTarget = z.object({ targetId: z.uuid() });

/** Does away with a target. */
export function dropTarget(act: Act, { targetId }: z.output<typeof ofTarget>): Promise<Result<null>> {
  return administering<null>(act, "publication.edit", async ({ tx, happened }) => {
    const [row] = await tx.select().from(target).where(eq(target.id, targetId));
    if (!row) return refuse({ code: "not-found", sentence: "There is no such target any more." });
    await tx.delete(target).where(eq(target.id, targetId));
    happened(targetDropped, { name: row.name }, { subjectId: targetId });
    return accept(null);
  });
}

/**
 * The targets under way and ahead, then those that are past, each with how it stands: what reached readers in it, what
 * is likely to, and what that comes to. Counted are the pieces the viewer may see, read once for all targets.
 */
export async function targetsSeen(db: Queryable, viewer: Viewer) {
  const today = localDate(viewer.now, viewer.calendar.timeZone);
  const [open, past] = await Promise.all([
    db.select().from(target).where(gte(target.until, today)).orderBy(asc(target.until), asc(target.name)),
    db.select().from(target).where(lt(target.until, today)).orderBy(desc(target.until), asc(target.name)).limit(PAST),
  ]);
  const all = [...open, ...past].map((row) => meantBy(viewer, row));
  if (all.length === 0) return [];
  const span = { from: Math.min(...all.map((one) => one.begins)), until: Math.max(...all.map((one) => one.ends)) };
  const where = { kindId: piece.kindId, sectionId: piece.sectionId };
  const channels = [...new Set(all.flatMap(({ row }) => row.channel ?? []))];
  const [dated, through, out, ahead] = await Promise.all([
    all.some(({ row }) => row.share) ? datedIn(db, viewer, span) : [],
    throughChannels(db, viewer, channels, span),
    db
      .select({ ...where, at: piece.firstLiveAt })
      .from(piece)
      .where(and(visible(viewer), gte(piece.firstLiveAt, span.from), lt(piece.firstLiveAt, span.until)))
      .limit(PIECES),
    db
      .select({ ...where, slug: piece.slug, title: piece.title, p50: likely.p50 })
      .from(piece)
      .innerJoin(likely, eq(likely.pieceId, piece.id))
      .where(and(visible(viewer), isNull(piece.firstLiveAt)))
      .orderBy(asc(likely.p50))
      .limit(PIECES),
  ]);
  return all.map(({ row: { id, name, from, until, wanted, channel, share }, begins, ends, isMeant }) => {
    const told = { id, name, from, until, share: share ? wanted : null };
    const gone = shareGone(begins, ends, viewer.now);
    if (share) {
      const meant = dated.filter((one) => isMeant(one) && one.publishAt >= begins && one.publishAt < ends);
      const next = meant.find((one) => one.inTime === null && !one.isLikely && one.p50 !== null);
      return {
        ...told,
        ...shareStanding(meant, wanted, gone),
        of: meant.length,
        next: next ? { slug: next.slug, title: next.title, p50: next.p50 as number } : null,
      };
    }
    const ofChannel = (one: Through) => one.channel === channel;
    const left = channel === null ? out : through.out.filter(ofChannel);
    const likelyOnes =
      channel === null ? ahead : through.ahead.filter(ofChannel).map((one) => ({ ...one, p50: one.at }));
    const done = left.filter((one) => isMeant(one) && (one.at ?? 0) >= begins && (one.at ?? 0) < ends).length;
    const mine = viewer.now < ends ? likelyOnes.filter(isMeant) : [];
    const coming = mine.filter(({ p50 }) => p50 >= begins && p50 < ends).length;
    const standing = { wanted, done, coming, gone };
    const next = mine.find(({ p50 }) => p50 >= ends);
    return {
      ...told,
      ...standing,
      of: null,
      outcome: outcomeOf(standing),
      /** The first that is likely to miss it. */
      next: next ? { slug: next.slug, title: next.title, p50: next.p50 } : null,
    };
  });
}

/** The pieces with a date in a span, the nearest first, each with what became of it. */
async function datedIn(db: Queryable, viewer: Viewer, span: { from: number; until: number }) {
  const { now, calendar } = viewer;
  const rows = await db
    .select({
      kindId: piece.kindId,
      sectionId: piece.sectionId,
      slug: piece.slug,
      title: piece.title,
      publishAt: sql<number>`${PROMISED}`.mapWith(piece.publishAt),
      firstLiveAt: piece.firstLiveAt,
      p50: likely.p50,
      readyAt: likely.readyAt,
    })
    .from(piece)
    .leftJoin(likely, eq(likely.pieceId, piece.id))
    .where(
      and(
        visible(viewer),
        or(
          and(gte(piece.promisedAt, span.from), lt(piece.promisedAt, span.until)),
          and(isNull(piece.firstLiveAt), gte(piece.publishAt, span.from), lt(piece.publishAt, span.until)),
        ),
      ),
    )
    .orderBy(asc(PROMISED))
    .limit(PIECES);
  return rows.map(({ firstLiveAt: left, readyAt, ...one }) => ({
    ...one,
    ...keptBy({ wished: one.publishAt, left, readyAt }, now, calendar.timeZone),
  }));
}

/** For when a piece was wished for as it first left, or is wished for now. */
const PROMISED = sql`COALESCE(${piece.promisedAt}, ${piece.publishAt})`;

/** So many pieces are counted at most. */
const PIECES = 20_000;

/** A target with its span as instants, and which pieces it means. */
function meantBy({ places, calendar }: Viewer, row: typeof target.$inferSelect) {
  const sections = row.sectionId === null ? null : new Set(below(places, row.sectionId));
  return {
    row,
    begins: startOf(row.from, calendar.timeZone),
    ends: startOf(dayAfter(row.until, 1), calendar.timeZone),
    isMeant: ({ kindId, sectionId }: { kindId: string; sectionId: string }) =>
      (row.kindId === null || row.kindId === kindId) && (sections === null || sections.has(sectionId)),
  };
}

/** The targets at risk, for whoever sets them. */
export const targetsAtRisk = async (db: Queryable, viewer: Viewer) =>
  (await targetsSeen(db, viewer)).filter((one) => one.outcome === "at risk");
