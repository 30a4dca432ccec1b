import { createHash } from "node:crypto";
import { and, asc, count, eq, inArray, lt } from "drizzle-orm";
import { z } from "zod";
import { feedDropped, feedNamed, materialCame } from "#core/events/intake.ts";
import { decodeFeed, type Entry, readFeed } from "#core/intake/feed.ts";
import { OPEN } from "#core/intake/item.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import type { Field } from "#core/text/fields.ts";
import { textOf } from "#core/text/plain.ts";
import { administering } from "../access/administer.ts";
import type { Queryable } from "../db/client.ts";
import { newId } from "../db/schema/columns.ts";
import { feed, intakeItem, kind, section } from "../db/schema/index.ts";
import { fetchOutside, whyNotAddress } from "../outside/send.ts";
import { text } from "../piece/input.ts";
import { loadPlaces } from "../sections/places.ts";
import { cancel, schedule } from "../tasks/schedule.ts";
import { type Act, write } from "../write.ts";
import { answeredBy, judgesOf, whatIsAmiss } from "./items.ts";

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
/** A feed is looked at every hour; one that fails waits twice as long each time, a day at most. */
const [EVERY, LONGEST] = [HOUR, DAY];
/** So large a feed is read, in bytes; there are so many. */
const [BYTES, FEEDS] = [2_000_000, 50];
/** So much of what it says stands in the list, in characters. */
const SAID = 2_000;

/** What material holds: a text. */
export const MATERIAL_FIELDS: Field[] = [{ key: "body", name: "Text", type: "manuscript", required: false }];

/** Where the stand-in for a feed stands. */
export const standInFeed = (baseUrl: string) => `${baseUrl}/standins/feed.atom`;

const nobody = z.literal("").transform(() => null);

export const feedInput = z.object({
  name: text("A feed needs a name.", 80),
  url: z.string().trim().max(500, "At most 500 characters fit."),
  sectionId: z.union([nobody, z.uuid()]).default(null),
  kindId: z.union([nobody, z.uuid()]).default(null),
  holderId: z.union([nobody, z.uuid()]).default(null),
  keepDays: z.coerce.number().int("A whole number.").min(1, "At least a day.").max(365, "At most a year.").default(30),
});

/** Names a feed; it is looked at from now on. */
export function nameFeed(act: Act, wanted: z.output<typeof feedInput>): Promise<Result<null>> {
  return administering<null>(act, "publication.edit", async ({ tx, now, happened }) => {
    const closed = whyNotAddress(wanted.url, standInFeed(act.baseUrl));
    if (closed) return refuse({ code: "address", field: "url", sentence: closed });
    const known = await tx.select({ url: feed.url }).from(feed).for("update");
    if (known.some((one) => one.url === wanted.url))
      return refuse({ code: "taken", field: "url", sentence: "This feed is looked at already." });
    if (known.length >= FEEDS) return refuse({ code: "full", sentence: `There are ${FEEDS} feeds already.` });
    const amiss = await whatIsAmiss(tx, wanted);
    if (amiss) return refuse(amiss);
    const id = newId();
    await tx.insert(feed).values({ id, ...wanted });
    await schedule(tx, { kind: "feed", subject: id, dueAt: now });
    happened(feedNamed, { name: wanted.name, url: wanted.url }, { subjectId: id });
    return accept(null);
  });
}

export const ofFeed = z.object({ feedId: z.uuid() });

/** Looks at a feed no more; what it brought stays. */
export function dropFeed(act: Act, { feedId }: z.output<typeof ofFeed>): Promise<Result<null>> {
  return administering<null>(act, "publication.edit", async ({ tx, happened }) => {
    const [row] = await tx.select().from(feed).where(eq(feed.id, feedId));
    if (!row) return refuse({ code: "not-found", sentence: "There is no such feed." });
    await cancel(tx, "feed", [feedId]);
    await tx.delete(feed).where(eq(feed.id, feedId));
    happened(feedDropped, { name: row.name }, { subjectId: feedId });
    return accept(null);
  });
}

/** Has a feed looked at now. */
export function lookNow(act: Act, { feedId }: z.output<typeof ofFeed>): Promise<Result<null>> {
  return administering<null>(act, "publication.edit", async ({ tx, now }) => {
    const [row] = await tx.select().from(feed).where(eq(feed.id, feedId));
    if (!row) return refuse({ code: "not-found", sentence: "There is no such feed." });
    await schedule(tx, { kind: "feed", subject: feedId, dueAt: now });
    return accept(null);
  });
}

/** Every feed, with how it stands and how much it brought. */
export async function listFeeds(db: Queryable) {
  const [feeds, brought] = await Promise.all([
    db
      .select({ feed, section: section.name, kind: kind.name })
      .from(feed)
      .leftJoin(section, eq(section.id, feed.sectionId))
      .leftJoin(kind, eq(kind.id, feed.kindId))
      .orderBy(asc(feed.name)),
    db.select({ id: intakeItem.feedId, items: count() }).from(intakeItem).groupBy(intakeItem.feedId),
  ]);
  return feeds.map(({ feed: { id, name, url, checkedAt, problem, failures }, ...places }) => ({
    id,
    name,
    url,
    checkedAt,
    problem,
    failures,
    ...places,
    brought: brought.find((one) => one.id === id)?.items ?? 0,
  }));
}

/**
 * Looks at a feed: what it brings anew comes in, each entry once; what nobody took goes after its time.
 *
 * @returns when to look again; null where it is a feed no more
 */
export async function lookAtFeed(act: Act, feedId: string, standIns: boolean): Promise<number | null> {
  const { db, now } = act;
  const [row] = await db.select().from(feed).where(eq(feed.id, feedId));
  if (!row) return null;
  await sweepMaterial(db, feedId, now - row.keepDays * DAY);
  try {
    const got = await fetchOutside(row.url, standIns ? standInFeed(act.baseUrl) : null, row, BYTES);
    if (got.bytes !== null) {
      const read = readFeed(decodeFeed(got.bytes, got.type));
      if ("problem" in read) throw new Error(read.problem);
      await takeIn(act, row, read.entries);
    }
    const { etag, modified } = got.bytes === null ? row : got;
    await db
      .update(feed)
      .set({ checkedAt: now, failures: 0, problem: null, etag, modified })
      .where(eq(feed.id, feedId));
    return now + EVERY;
  } catch (error) {
    const failures = row.failures + 1;
    const problem = (error as Error).message.slice(0, 300);
    await db.update(feed).set({ checkedAt: now, failures, problem }).where(eq(feed.id, feedId));
    return now + Math.min(LONGEST, EVERY * 2 ** (failures - 1));
  }
}

const keyOf = (entry: Entry) => createHash("sha256").update(entry.id).digest("hex");

/** Takes in what a feed brings that it did not bring before. */
export function takeIn(act: Act, of: typeof feed.$inferSelect, entries: readonly Entry[]): Promise<Result<null>> {
  return write<null>(act, async (change) => {
    const { tx, now } = change;
    const keyed = [...new Map(entries.map((entry) => [keyOf(entry), entry])).entries()];
    if (keyed.length === 0) return accept(null);
    const keys = keyed.map(([key]) => key);
    const known = await tx
      .select({ key: intakeItem.feedKey })
      .from(intakeItem)
      .where(and(eq(intakeItem.feedId, of.id), inArray(intakeItem.feedKey, keys)))
      .for("update");
    // What was left, and went after its time, is not brought again while the feed still shows it.
    const since = now - of.keepDays * DAY;
    const fresh = keyed.filter(
      ([key, entry]) => !known.some((one) => one.key === key) && (entry.at === null || entry.at >= since),
    );
    if (fresh.length === 0) return accept(null);
    const places = await loadPlaces(tx);
    const { sectionId, kindId, holderId } = of;
    await tx.insert(intakeItem).values(
      fresh.map(([feedKey, { title, text: body, url }]) => ({
        id: newId(),
        sort: "material" as const,
        standing: "waiting" as const,
        title,
        words: textOf(body).slice(0, SAID),
        content: { title, fields: { body } },
        fields: MATERIAL_FIELDS,
        sectionId,
        kindId,
        holderId,
        feedId: of.id,
        feedKey,
        source: url?.slice(0, 1_000) ?? null,
        at: now,
        dueAt: answeredBy(places, places.intake.promise, now),
      })),
    );
    change.happened(
      materialCame,
      { title: fresh[0]?.[1].title ?? "", feed: of.name, count: fresh.length },
      { tell: { judge: await judgesOf(tx, of, places, now) } },
    );
    return accept(null);
  });
}

/** Takes away what a feed brought and nobody took. @param before epoch milliseconds */
const sweepMaterial = (db: Queryable, feedId: string, before: number) =>
  db
    .delete(intakeItem)
    .where(and(eq(intakeItem.feedId, feedId), inArray(intakeItem.standing, [...OPEN]), lt(intakeItem.at, before)));
