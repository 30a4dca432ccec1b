import { and, desc, eq, getTableColumns, gt, lt, ne, sql } from "drizzle-orm";
import { sessionEnded, sessionOpened } from "#core/events/people.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import type { Database, Queryable } from "../db/client.ts";
import { prepared } from "../db/prepared.ts";
import { formAnswer, ledgerTail, session } from "../db/schema/index.ts";
import type { Viewer } from "../viewer.ts";
import { type Act, type Change, whyUnproven, write } from "../write.ts";
import { type Browser, remember } from "./browsers.ts";
import { newSecret, secretId } from "./secrets.ts";

const MINUTE = 60_000;
export const SESSION_LENGTH = 14 * 24 * 60 * MINUTE;
/** A session in which nothing was asked for so long is over: a long weekend passes, a holiday does not. */
const IDLE = 4 * 24 * 60 * MINUTE;
/** How exactly it is kept when something was last asked. */
const SEEN = 5 * MINUTE;
/** For so long after the password was given access may be acted on. */
const PROVEN = 30 * MINUTE;
/** Between the password and the second factor there is little time. */
const HALF_WAY = 10 * MINUTE;
/** A form is not sent a second time after this long. */
const ANSWERS_KEPT = 2 * 24 * 60 * MINUTE;

/** How a session begins. */
export interface Opening {
  /** False where a second factor is still asked: until then the session opens nothing. */
  confirmed?: boolean;
  /** Whether a second factor was given already. */
  factor?: boolean;
  /** Whether it is never asked anew who sits there: by the stand-in's list one comes in without any password. */
  untold?: boolean;
}

/**
 * Opens a session for a person who has proved who they are.
 *
 * @returns the secret for the cookie
 */
export function openSession(
  act: Act,
  personId: string,
  browser: Browser,
  { confirmed = true, factor = false, untold = false }: Opening = {},
): Promise<Result<string>> {
  const secret = newSecret();
  return write({ ...act, personId }, async (change) => {
    await change.tx.delete(session).where(lt(session.expiresAt, change.now));
    await change.tx.delete(formAnswer).where(lt(formAnswer.at, change.now - ANSWERS_KEPT));
    if (browser.session) await change.tx.delete(session).where(eq(session.id, secretId(browser.session)));
    await change.tx.insert(session).values({
      id: secretId(secret),
      personId,
      createdAt: change.now,
      expiresAt: change.now + (confirmed ? SESSION_LENGTH : HALF_WAY),
      seenAt: change.now,
      provenUntil: change.now + (untold ? SESSION_LENGTH : PROVEN),
      confirmed,
      factor,
      address: browser.address.slice(0, 60),
      agent: browser.agent.slice(0, 200),
    });
    if (confirmed) {
      change.happened(sessionOpened, {}, { subjectId: personId });
      if (!untold) await remember(change, personId, browser, act.baseUrl);
    }
    return accept(secret);
  });
}

/**
 * Whose session a cookie's secret opens, and whom they see as; null when it is unknown, over, or half
 * open. With it comes where the ledger ends, so that a request need not ask for that alone.
 */
export async function loadSession(db: Database, secret: string, now: number) {
  const row = await sessionOf(db, secret, now);
  if (!row?.confirmed) return null;
  if (now - row.seenAt > SEEN) await db.update(session).set({ seenAt: now }).where(eq(session.id, row.id));
  const { personId, seeingAsId, factor, end } = row;
  return { personId, seeingAsId, factor, end, proven: row.provenUntil > now };
}

const askSession = prepared((db) =>
  db
    .select({
      ...getTableColumns(session),
      end: sql<number>`(SELECT COALESCE(MAX(${ledgerTail.seq}), 0) FROM ${ledgerTail})`.mapWith(Number),
    })
    .from(session)
    .where(eq(session.id, sql.placeholder("id")))
    .prepare(),
);

/** The row of a session that is not over, whole or half open. */
export async function sessionOf(db: Queryable, secret: string, now: number) {
  const [row] = await askSession(db, { id: secretId(secret) });
  return row && row.expiresAt > now && row.seenAt > now - IDLE ? row : undefined;
}

/** Makes a session whole by its second factor. @returns its new secret */
export async function confirmSession(
  change: Change,
  secret: string,
  personId: string,
  browser: Browser,
  baseUrl: string,
): Promise<string> {
  change.happened(sessionOpened, {}, { subjectId: personId });
  await remember(change, personId, browser, baseUrl);
  const { now } = change;
  return raise(change, secret, { confirmed: true, factor: true, createdAt: now, expiresAt: now + SESSION_LENGTH });
}

/**
 * Gives a session more than it had, and another secret: the one before, which may have been seen, opens
 * nothing afterwards.
 *
 * @returns the new secret
 */
export async function raise(
  { tx }: Change,
  secret: string,
  more: Partial<Pick<typeof session.$inferSelect, "confirmed" | "factor" | "createdAt" | "expiresAt" | "provenUntil">>,
): Promise<string> {
  const next = newSecret();
  await tx
    .update(session)
    .set({ ...more, id: secretId(next) })
    .where(eq(session.id, secretId(secret)));
  return next;
}

/** Until when who gave their password now need not give it again. */
export const provenFrom = (now: number) => now + PROVEN;

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
export async function endSessions(act: Act, wanted: { id: string | null; secret: string }): Promise<Result<null>> {
  const unproven = whyUnproven(act);
  if (unproven) return refuse(unproven);
  return write(act, async (change) => {
    const own = eq(session.personId, act.personId ?? "");
    const which = wanted.id === null ? ne(session.id, secretId(wanted.secret)) : eq(session.id, wanted.id);
    await change.tx.delete(session).where(and(own, which));
    change.happened(sessionEnded, {}, { subjectId: act.personId ?? undefined });
    return accept(null);
  });
}
