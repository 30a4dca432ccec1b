import { and, asc, eq, inArray, isNull } from "drizzle-orm";
import { z } from "zod";
import { channelCalendarGiven, channelCalendarTaken } from "#core/events/release.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { SITE } from "#core/release/channel.ts";
import { administering } from "../access/administer.ts";
import { calendarAt, calendarText } from "../calendar/file.ts";
import type { Queryable } from "../db/client.ts";
import { channel, edition, piece, release } from "../db/schema/index.ts";
import { decipher, encipher, newSecret, secretId } from "../people/secrets.ts";
import type { Act } from "../write.ts";
import { loadChannel } from "./channels.ts";

/** So many releases the file holds. */
const RELEASES = 2_000;

export const ofChannel = z.object({ key: z.string().max(20).default(SITE) });

/** Gives out what leaves through a channel as a calendar file at a new secret address; one it had before opens nothing any more. */
export function giveChannelCalendar(act: Act, { key }: z.output<typeof ofChannel>): Promise<Result<null>> {
  return administering(act, "publication.edit", async ({ tx, happened }) => {
    const { name, revision } = await loadChannel(tx, key);
    if (key !== SITE && revision === 0) return refuse({ code: "not-found", sentence: "There is no such channel." });
    const secret = newSecret();
    const set = { calendarId: secretId(secret), calendarSecret: encipher(secret) };
    await tx
      .insert(channel)
      .values({ key, name, ...set })
      .onDuplicateKeyUpdate({ set });
    happened(channelCalendarGiven, { key, name });
    return accept(null);
  });
}

/** Takes the address of the calendar file back. */
export function takeChannelCalendar(act: Act, { key }: z.output<typeof ofChannel>): Promise<Result<null>> {
  return administering(act, "publication.edit", async ({ tx, happened }) => {
    const { name } = await loadChannel(tx, key);
    await tx.update(channel).set({ calendarId: null, calendarSecret: null }).where(eq(channel.key, key));
    happened(channelCalendarTaken, { key, name });
    return accept(null);
  });
}

/** Where a channel's calendar file is; null where it is given out at no address. */
export async function channelCalendarAddress(db: Queryable, key: string, baseUrl: string): Promise<string | null> {
  const [row] = await db.select({ secret: channel.calendarSecret }).from(channel).where(eq(channel.key, key));
  return row?.secret ? calendarAt(baseUrl, decipher(row.secret)) : null;
}

/** The calendar file of a channel at a secret address: when what is planned leaves. @returns null where the address is no channel's */
export async function channelCalendar(
  db: Queryable,
  secret: string,
  baseUrl: string,
  now: number,
): Promise<string | null> {
  const [of] = await db
    .select({ key: channel.key, name: channel.name, editions: channel.editions })
    .from(channel)
    .where(eq(channel.calendarId, secretId(secret)));
  if (!of) return null;
  const rows = await db
    .select({ id: release.id, at: release.at, title: piece.title, slug: piece.slug, status: release.status })
    .from(release)
    .innerJoin(piece, and(eq(piece.id, release.pieceId), isNull(piece.deletedAt)))
    .where(and(eq(release.channel, of.key), inArray(release.status, ["planned", "held"])))
    .orderBy(asc(release.at))
    .limit(RELEASES);
  const editions = await db
    .select({ id: edition.id, at: edition.at, number: edition.number, status: edition.status })
    .from(edition)
    .where(and(eq(edition.channel, of.key), inArray(edition.status, ["gathering", "signed", "held"])))
    .orderBy(asc(edition.at))
    .limit(RELEASES);
  const whole = editions.map(({ id, at, number, status }) => ({
    id: `edition-${id}`,
    at,
    summary: `${status === "held" ? "Held: " : ""}${of.editions?.called ?? of.name} ${number}`,
    path: `/editions/${of.key}/${number}`,
  }));
  const dates = rows.map(({ id, at, title, slug, status }) => ({
    id: `release-${id}`,
    at,
    summary: `${status === "held" ? "Held: " : ""}${title}`,
    path: `/pieces/${slug}`,
  }));
  return calendarText(of.name, [...dates, ...whole], baseUrl, now);
}
