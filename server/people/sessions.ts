import { and, desc, eq, gt, lt, ne } from "drizzle-orm";
import { sessionEnded, sessionOpened } from "#core/events/people.ts";
import { accept, type Result } from "#core/refusal.ts";
import type { Database, Queryable } from "../db/client.ts";
import { formAnswer, session } from "../db/schema/index.ts";
import type { Viewer } from "../viewer.ts";
import { type Act, type Change, write } from "../write.ts";
import { newSecret, secretId } from "./secrets.ts";

const MINUTE = 60_000;
export const SESSION_LENGTH = 14 * 24 * 60 * MINUTE;
/** Between the password and the second factor there is little time. */
const HALF_WAY = 10 * MINUTE;
/** A form is not sent a second time after this long. */
const ANSWERS_KEPT = 2 * 24 * 60 * MINUTE;

/** The browser a session is opened in. */
export interface Browser {
  address: string;
  agent: string;
}

/**
 * Opens a session for a person who has proved who they are.
 *
 * @param confirmed false where a second factor is still asked: until then the session opens nothing
 * @returns the secret for the cookie
 */
export function openSession(act: Act, personId: string, browser: Browser, confirmed = true): Promise<Result<string>> {
  const secret = newSecret();
  return write({ ...act, personId }, async (change) => {
    await change.tx.delete(session).where(lt(session.expiresAt, change.now));
    await change.tx.delete(formAnswer).where(lt(formAnswer.at, change.now - ANSWERS_KEPT));
    await change.tx.insert(session).values({
      id: secretId(secret),
      personId,
      createdAt: change.now,
      expiresAt: change.now + (confirmed ? SESSION_LENGTH : HALF_WAY),
      confirmed,
      address: browser.address.slice(0, 60),
      agent: browser.agent.slice(0, 200),
    });
    if (confirmed) change.happened(sessionOpened, {}, { subjectId: personId });
    return accept(secret);
  });
}

/** Whose session a cookie's secret opens, and whom they see as; null when it is unknown, over, or half open. */
export async function loadSession(db: Database, secret: string, now: number) {
  const row = await rowOf(db, secret, now);
  return row?.confirmed ? { personId: row.personId, seeingAsId: row.seeingAsId } : null;
}

/** Whose session waits for its second factor; null when none does. */
export async function halfOpen(db: Queryable, secret: string | null, now: number): Promise<string | null> {
  const row = secret ? await rowOf(db, secret, now) : undefined;
  return row && !row.confirmed ? row.personId : null;
}

async function rowOf(db: Queryable, secret: string, now: number) {
  const [row] = await db
    .select()
    .from(session)
    .where(and(eq(session.id, secretId(secret)), gt(session.expiresAt, now)));
  return row;
}

/** Makes a half-open session a whole one. */
export async function confirmSession(change: Change, secret: string, personId: string): Promise<void> {
  await change.tx
    .update(session)
    .set({ confirmed: true, createdAt: change.now, expiresAt: change.now + SESSION_LENGTH })
    .where(eq(session.id, secretId(secret)));
  change.happened(sessionOpened, {}, { subjectId: personId });
}

/** Ends a session; the cookie opens nothing afterwards. */
export async function signOut(act: Act, secret: string): Promise<void> {
  await write({ ...act, seeingAs: undefined }, async (change) => {
    await change.tx.delete(session).where(eq(session.id, secretId(secret)));
    change.happened(sessionEnded, {}, { subjectId: act.personId ?? undefined });
    return accept(null);
  });
}

/** A browser in which a person is signed in. */
export interface SessionRow {
  id: string;
  createdAt: number;
  agent: string;
  address: string;
  present: boolean;
}

/** A person's own sessions, the latest first. @param secret that of the browser that asks */
export async function listSessions(db: Queryable, viewer: Viewer, secret: string | null): Promise<SessionRow[]> {
  const rows = await db
    .select({ id: session.id, createdAt: session.createdAt, agent: session.agent, address: session.address })
    .from(session)
    .where(and(eq(session.personId, viewer.id), eq(session.confirmed, true), gt(session.expiresAt, viewer.now)))
    .orderBy(desc(session.createdAt));
  const present = secret ? secretId(secret) : "";
  return rows.map((row) => ({ ...row, present: row.id === present }));
}

/** Ends one of one's own sessions, or (with null) every one but the present. */
export function endSessions(act: Act, wanted: { id: string | null; secret: string }): Promise<Result<null>> {
  return write(act, async (change) => {
    const own = eq(session.personId, act.personId ?? "");
    const which = wanted.id === null ? ne(session.id, secretId(wanted.secret)) : eq(session.id, wanted.id);
    await change.tx.delete(session).where(and(own, which));
    change.happened(sessionEnded, {}, { subjectId: act.personId ?? undefined });
    return accept(null);
  });
}
