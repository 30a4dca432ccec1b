import { createHash, createHmac, randomBytes } from "node:crypto";
import { hash, verify } from "@node-rs/argon2";
import { and, count, eq, gt, gte, inArray, lt } from "drizzle-orm";
import { accept, type Result, refuse } from "#core/refusal.ts";
import type { Database } from "../db/client.ts";
import { newId } from "../db/schema/columns.ts";
import { formAnswer, person, session, signInFailure } from "../db/schema/index.ts";
import { type Act, write } from "../write.ts";

const MINUTE = 60_000;
export const SESSION_LENGTH = 14 * 24 * 60 * MINUTE;
const WINDOW = 15 * MINUTE;
/** A form is not sent a second time after this long. */
const ANSWERS_KEPT = 2 * 24 * 60 * MINUTE;
const LIMITS = { address: 30, account: 10 };

/** A password's argon2id hash, with the parameters OWASP recommends (19 MiB, two passes, one lane). */
export const hashPassword = (password: string) => hash(password, { memoryCost: 19_456, timeCost: 2, parallelism: 1 });

/** Compared against when there is no such account, so that the time an answer takes tells nothing. */
const decoy = hashPassword(randomBytes(16).toString("hex"));

const wrong = () => refuse({ code: "sign-in", sentence: "That address and password do not belong together." });

/**
 * Signs a person in by mail address and password.
 *
 * @returns the secret for the cookie, or a refusal that does not tell whether the account exists
 */
export async function signIn(act: Act, email: string, password: string, address: string): Promise<Result<string>> {
  const buckets = { address: bucket("address", address), account: bucket("account", email.trim().toLowerCase()) };
  const failures = await act.db
    .select({ bucket: signInFailure.bucket, failed: count() })
    .from(signInFailure)
    .where(and(inArray(signInFailure.bucket, Object.values(buckets)), gte(signInFailure.at, act.now - WINDOW)))
    .groupBy(signInFailure.bucket);
  const failed = (key: string) => failures.find((row) => row.bucket === key)?.failed ?? 0;
  if (failed(buckets.address) >= LIMITS.address || failed(buckets.account) >= LIMITS.account) {
    return refuse({ code: "rate-limited", sentence: "Too many attempts. Wait a quarter of an hour and try again." });
  }
  const [found] = await act.db.select().from(person).where(eq(person.email, email.trim().toLowerCase()));
  const fits = await verify(found?.passwordHash ?? (await decoy), password);
  if (!fits || !found?.active || !found.passwordHash) {
    await act.db
      .insert(signInFailure)
      .values(Object.values(buckets).map((key) => ({ id: newId(), bucket: key, at: act.now })));
    await act.db.delete(signInFailure).where(lt(signInFailure.at, act.now - WINDOW));
    return wrong();
  }
  return openSession(act, found.id);
}

/** Opens a session for a person who has proved who they are. */
export function openSession(act: Act, personId: string): Promise<Result<string>> {
  const secret = randomBytes(32).toString("base64url");
  return write({ ...act, personId }, async (change) => {
    await change.tx.delete(session).where(lt(session.expiresAt, change.now));
    await change.tx.delete(formAnswer).where(lt(formAnswer.at, change.now - ANSWERS_KEPT));
    await change.tx
      .insert(session)
      .values({ id: sessionId(secret), personId, createdAt: change.now, expiresAt: change.now + SESSION_LENGTH });
    change.record({ action: "session.opened", subjectId: personId });
    return accept(secret);
  });
}

/** Whose session a cookie's secret opens; null when it is unknown or over. */
export async function personOfSession(db: Database, secret: string, now: number): Promise<string | null> {
  const [row] = await db
    .select({ personId: session.personId })
    .from(session)
    .where(and(eq(session.id, sessionId(secret)), gt(session.expiresAt, now)));
  return row?.personId ?? null;
}

/** Ends a session; the cookie opens nothing afterwards. */
export async function signOut(act: Act, secret: string): Promise<void> {
  await write(act, async (change) => {
    await change.tx.delete(session).where(eq(session.id, sessionId(secret)));
    change.record({ action: "session.ended", subjectId: act.personId ?? undefined });
    return accept(null);
  });
}

/** What the database keeps of a session: without the installation's key it opens nothing. */
const sessionId = (secret: string) =>
  createHmac("sha256", process.env.SESSION_SECRET ?? "")
    .update(secret)
    .digest("hex");
const bucket = (sort: string, value: string) => createHash("sha256").update(`${sort} ${value}`).digest("hex");
