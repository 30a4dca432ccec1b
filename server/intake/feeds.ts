import { createHash } from "node:crypto";
import { and, asc, count, eq, inArray, lt } from "drizzle-orm";
import { z } from "zod";
import { feedDropped, feedNamed, materialCame } from "#core/events/intake.ts";
import { decodeFeed, type Entry, readFeed } from "#core/intake/feed.ts";
import { OPEN } from "#core/intake/item.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import type { Field } from "#core/text/field.ts";
import { textOf } from "#core/text/plain.ts";
import { administering } from "../access/administer.ts";
import type { Queryable } from "../db/client.ts";
import { newId } from "../db/schema/columns.ts";
import { feed, feedEntry, intakeFile, intakeItem, kind, section } from "../db/schema/index.ts";
import { keep } from "../files/commands.ts";
import type { Sniffed } from "../files/sniff.ts";
import { idOf } from "../files/store.ts";
import { fetchOutside, whyNotAddress } from "../outside/send.ts";
import { text } from "../piece/input.ts";
import { loadPlaces } from "../sections/places.ts";
import { cancel, schedule } from "../tasks/schedule.ts";
import { type Act, write } from "../write.ts";
import { answeredBy, judgesOf, whatIsAmiss } from "./items.ts";
import { type Along, sniffed } from "./requests.ts";

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
/** A feed is looked at every hour; one that fails waits twice as long each time, a day at most. */
const [EVERY, LONGEST] = [HOUR, DAY];
/** So large a feed is read, in bytes; there are so many. */
const [BYTES, FEEDS] = [2_000_000, 50];
/** So long an entry is remembered that a feed shows no more, in milliseconds. */
const REMEMBERED = 400 * DAY;
/** So much of what it says stands in the list, in characters. */
const SAID = 2_000;

/** What material holds: a text. */
export const MATERIAL_FIELDS: Field[] = [{ key: "body", name: "Text", type: "manuscript", required: false }];

/** Where the stand-in for a feed stands; without a base its path alone, which can be kept as its address. */
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
      const source = decodeFeed(got.bytes, got.type);
      const read = readFeed(source);
      if ("problem" in read) throw new Error(read.problem);
      const pictures = await picturesOf(act, await freshOf(db, row, read.entries, now), standIns);
      // With its pictures kept, its words are read again around them.
      const whole = pictures.size === 0 ? read : readFeed(source, (at) => pictures.get(at)?.id ?? null);
      if ("entries" in whole) await takeIn(act, row, whole.entries, pictures);
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

type Feed = typeof feed.$inferSelect;

/** Those entries a feed did not show before, by what it is known by; what is older than it would be kept is left out. */
async function freshOf(db: Queryable, of: Feed, entries: readonly Entry[], now: number): Promise<[string, Entry][]> {
  const keyed = [...new Map(entries.map((entry) => [keyOf(entry), entry])).entries()];
  if (keyed.length === 0) return [];
  const keys = keyed.map(([key]) => key);
  const shown = and(eq(feedEntry.feedId, of.id), inArray(feedEntry.key, keys));
  const known = new Set((await db.select({ key: feedEntry.key }).from(feedEntry).where(shown)).map(({ key }) => key));
  const since = now - of.keepDays * DAY;
  return keyed.filter(([key, entry]) => !known.has(key) && (entry.at === null || entry.at >= since));
}

/** So many pictures of an entry, and of one look, are fetched; so large, in bytes. */
const [OF_ENTRY, OF_LOOK, PICTURE] = [3, 12, 2_000_000];

/** A picture out of a feed, as it is kept. */
type Pictured = Along & Sniffed & { id: string };

/** The pictures in the words of some entries, by where they stand; what cannot be had, or is no picture, is left out. */
async function picturesOf(act: Act, entries: readonly [string, Entry][], standIns: boolean) {
  const wanted = [...new Set(entries.flatMap(([, { pictures }]) => pictures.slice(0, OF_ENTRY)))].slice(0, OF_LOOK);
  const fetched = await Promise.all(
    wanted.map(async (at) => {
      const standIn = standIns && at.startsWith(`${act.baseUrl}/standins/`) ? at : null;
      const got = await fetchOutside(at, standIn, { etag: null, modified: null }, PICTURE).catch(() => null);
      return { at, bytes: got?.bytes ?? null };
    }),
  );
  const pictures = new Map<string, Pictured>();
  // Looked at one after the other: more than a few at once are turned away.
  for (const { at, bytes } of fetched) {
    if (bytes === null) continue;
    const name = new URL(at).pathname.split("/").at(-1)?.slice(0, 200) || "picture";
    const found = await sniffed({ name, bytes }, "feeds");
    if (!("problem" in found) && found.width !== null) pictures.set(at, { ...found, id: idOf(bytes) });
  }
  return pictures;
}

/** Takes in what a feed brings that it did not bring before. @param pictures those in its words, by where they stand */
export function takeIn(
  act: Act,
  of: Feed,
  entries: readonly Entry[],
  pictures: ReadonlyMap<string, Pictured> = new Map(),
): Promise<Result<null>> {
  return write<null>(act, async (change) => {
    const { tx, now } = change;
    if (entries.length === 0) return accept(null);
    const keys = [...new Set(entries.map(keyOf))];
    // Two nodes that look at once take in one after the other.
    await tx.select({ id: feed.id }).from(feed).where(eq(feed.id, of.id)).for("update");
    const fresh = await freshOf(tx, of, entries, now);
    await tx
      .insert(feedEntry)
      .values(keys.map((key) => ({ feedId: of.id, key, seenAt: now })))
      .onDuplicateKeyUpdate({ set: { seenAt: now } });
    await tx.delete(feedEntry).where(and(eq(feedEntry.feedId, of.id), lt(feedEntry.seenAt, now - REMEMBERED)));
    if (fresh.length === 0) return accept(null);
    const places = await loadPlaces(tx);
    const { sectionId, kindId, holderId } = of;
    const items = fresh.map(() => newId());
    await tx.insert(intakeItem).values(
      fresh.map(([feedKey, { title, text: body, url }], i) => ({
        id: items[i] ?? newId(),
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
    for (const [i, [, entry]] of fresh.entries())
      for (const at of new Set(entry.pictures)) {
        const one = pictures.get(at);
        const itemId = items[i];
        if (!one || !itemId) continue;
        const fileId = await keep(change, one);
        await tx.insert(intakeFile).ignore().values({ itemId, fileId, name: one.name });
      }
    change.happened(
      materialCame,
      { title: fresh[0]?.[1].title ?? "", feed: of.name, count: fresh.length, items },
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
