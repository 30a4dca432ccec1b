import { and, asc, eq, inArray, isNull } from "drizzle-orm";
import { channelCalendarGiven, channelCalendarTaken } from "#core/events/release.ts";
import { accept, type Result } from "#core/refusal.ts";
import { administering } from "../access/administer.ts";
import { calendarAt, calendarText } from "../calendar/file.ts";
import type { Queryable } from "../db/client.ts";
import { channel, piece, release } from "../db/schema/index.ts";
import { decipher, encipher, newSecret, secretId } from "../people/secrets.ts";
import type { Act } from "../write.ts";
import { loadChannel, SITE } from "./channels.ts";

/** So many releases the file holds. */
const RELEASES = 2_000;

/** Gives out what leaves through the reader site as a calendar file at a new secret address; one it had before opens nothing any more. */
export function giveChannelCalendar(act: Act): Promise<Result<null>> {
  return administering(act, "publication.edit", async ({ tx, happened }) => {
    const { name } = await loadChannel(tx, SITE);
    const secret = newSecret();
    const set = { calendarId: secretId(secret), calendarSecret: encipher(secret) };
    await tx
      .insert(channel)
      .values({ key: SITE, name, ...set })
      .onDuplicateKeyUpdate({ set });
    happened(channelCalendarGiven, { key: SITE, name });
    return accept(null);
  });
}

/** Takes the address of the calendar file back. */
export function takeChannelCalendar(act: Act): Promise<Result<null>> {
  return administering(act, "publication.edit", async ({ tx, happened }) => {
    const { name } = await loadChannel(tx, SITE);
    await tx.update(channel).set({ calendarId: null, calendarSecret: null }).where(eq(channel.key, SITE));
    happened(channelCalendarTaken, { key: SITE, name });
    return accept(null);
  });
}

/** Where a channel's calendar file is; null where it is given out at no address. */
export async function channelCalendarAddress(db: Queryable, baseUrl: string): Promise<string | null> {
  const [row] = await db.select({ secret: channel.calendarSecret }).from(channel).where(eq(channel.key, SITE));
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
    .select({ key: channel.key, name: channel.name })
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
  const dates = rows.map(({ id, at, title, slug, status }) => ({
    id: `release-${id}`,
    at,
    summary: `${status === "held" ? "Held: " : ""}${title}`,
    slug,
  }));
  return calendarText(of.name, dates, baseUrl, now);
}
