import { and, eq, inArray } from "drizzle-orm";
import { calendarGiven, calendarTaken } from "#core/events/people.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { visible } from "../access/visible.ts";
import { calendarAt, calendarText } from "../calendar/file.ts";
import type { Database, Queryable } from "../db/client.ts";
import { person, piece, release } from "../db/schema/index.ts";
import { dueDates } from "../pieces/turn.ts";
import { loadViewer, type Viewer } from "../viewer.ts";
import { type Act, write } from "../write.ts";
import { decipher, encipher, newSecret, secretId } from "./secrets.ts";

/** So many releases the file holds. */
const RELEASES = 500;

/** Gives one's calendar file out at a new secret address; one it had before opens nothing any more. */
export function giveCalendar(act: Act): Promise<Result<null>> {
  return write(act, async ({ tx, actor, happened }) => {
    if (!actor || actor.guest) return refuse({ code: "not-granted", sentence: "Guests have no calendar here." });
    const secret = newSecret();
    await tx
      .update(person)
      .set({ calendarId: secretId(secret), calendarSecret: encipher(secret) })
      .where(eq(person.id, actor.id));
    happened(calendarGiven, {}, { subjectId: actor.id });
    return accept(null);
  });
}

/** Takes the address of one's calendar file back. */
export function takeCalendar(act: Act): Promise<Result<null>> {
  return write(act, async ({ tx, actor, happened }) => {
    if (!actor) return refuse({ code: "not-found", sentence: "There is none." });
    await tx.update(person).set({ calendarId: null, calendarSecret: null }).where(eq(person.id, actor.id));
    happened(calendarTaken, {}, { subjectId: actor.id });
    return accept(null);
  });
}

/** The address of a viewer's calendar file; null where it is given out at none. */
export async function calendarAddress(db: Queryable, viewer: Viewer, baseUrl: string): Promise<string | null> {
  const [row] = await db.select({ secret: person.calendarSecret }).from(person).where(eq(person.id, viewer.id));
  return row?.secret ? calendarAt(baseUrl, decipher(row.secret)) : null;
}

/**
 * The calendar file at a secret address (RFC 5545): when what waits on its owner is due, and what they may see
 * leaves for readers.
 *
 * @returns null where the address is nobody's
 */
export async function calendarFile(db: Database, secret: string, baseUrl: string, now: number): Promise<string | null> {
  const [owner] = await db
    .select({ id: person.id })
    .from(person)
    .where(eq(person.calendarId, secretId(secret)));
  const viewer = owner && (await loadViewer(db, owner.id, now));
  if (!viewer) return null;
  const [dates, leaving] = await Promise.all([dueDates(db, viewer), releasesSeen(db, viewer)]);
  const entries = [
    ...dates.map(({ id, at, title, slug, asked }) => ({
      id: `due-${id}`,
      at,
      summary: `${DUE[asked]}: ${title}`,
      path: `/pieces/${slug}`,
    })),
    ...leaving.map(({ id, at, title, slug }) => ({
      id: `release-${id}`,
      at,
      summary: `Leaves: ${title}`,
      path: `/pieces/${slug}`,
    })),
  ];
  return calendarText(`${viewer.places.name}: ${viewer.name}`, entries, baseUrl, now);
}

const DUE = { decide: "Decide", write: "Write", "see to": "Due" } as const;

const releasesSeen = (db: Queryable, viewer: Viewer) =>
  db
    .select({ id: release.id, at: release.at, title: piece.title, slug: piece.slug })
    .from(release)
    .innerJoin(piece, eq(piece.id, release.pieceId))
    .where(and(inArray(release.status, ["proposed", "planned", "held"]), visible(viewer)))
    .orderBy(release.at)
    .limit(RELEASES);
