import { and, eq, isNull, lt, or } from "drizzle-orm";
import { Secret, TOTP } from "otpauth";
import { toDataURL } from "qrcode";
import { secondFactorDropped, secondFactorSet } from "#core/events/people.ts";
import { accept, type Refusal, type Result, refuse } from "#core/refusal.ts";
import { demandsSecondFactor, loadHolder } from "../access/holders.ts";
import type { Queryable } from "../db/client.ts";
import { person } from "../db/schema/index.ts";
import { type Act, type Change, whyUnproven, write } from "../write.ts";
import { attempt } from "./attempts.ts";
import type { Browser } from "./browsers.ts";
import { tellOwner } from "./letters.ts";
import { refuseWrongPassword } from "./passwords.ts";
import { factorsOf, forgetIdleCodes, newRecoveryCodes, spendRecoveryCode } from "./recovery.ts";
import { decipher, encipher } from "./secrets.ts";
import { confirmSession, raise, sessionOf } from "./sessions.ts";

/** Seconds a code is good for (RFC 6238); the one before and the one after are taken too, for clocks that differ. */
const PERIOD = 30;

/** Whether a person signs in with a second factor: they set one up, or a role of theirs asks for it. */
export async function asksSecondFactor(db: Queryable, personId: string, now: number): Promise<boolean> {
  const factors = await factorsOf(db, personId);
  return factors.code || factors.passkey || isDemanded(db, personId, now);
}

/** Why the last factor stays. */
export const DEMANDED: Refusal = { code: "demanded", sentence: "A role of yours asks for a second factor." };

/** Whether a role a person holds now demands a second factor. */
export async function isDemanded(db: Queryable, personId: string, now: number): Promise<boolean> {
  const holder = await loadHolder(db, personId);
  return holder !== null && demandsSecondFactor(holder, now);
}

/** What an authenticator is to be given: the secret in base32, and a picture of it, a PNG as a data address. */
export interface Pending {
  secret: string;
  picture: string;
}

/** A new secret for an authenticator, or the one just shown once more. */
export async function newAuthenticator(email: string, secret = new Secret({ size: 20 }).base32): Promise<Pending> {
  return { secret, picture: await toDataURL(authenticator(secret, email).toString(), { margin: 1 }) };
}

/** Whose second factor is waited for. */
export interface Awaited {
  personId: string;
  name: string;
  /** Where they have none yet and are to set one up. */
  pending: Pending | null;
  /** What they can give. */
  has: { code: boolean; passkey: boolean };
}

/**
 * Whose second factor a session waits for: one half open, or one opened without it before a role began
 * to demand it. Null when none does, and for who is to set one up but gave their password long ago.
 */
export async function awaited(db: Queryable, secret: string | null, now: number): Promise<Awaited | null> {
  const row = secret ? await sessionOf(db, secret, now) : undefined;
  if (!row || row.factor || (row.confirmed && !(await isDemanded(db, row.personId, now)))) return null;
  const [[owner], has] = await Promise.all([
    db.select().from(person).where(eq(person.id, row.personId)),
    factorsOf(db, row.personId),
  ]);
  const some = has.code || has.passkey;
  if (!owner?.active || (!some && row.provenUntil <= now)) return null;
  const pending = some ? null : await newAuthenticator(owner.email);
  return { personId: owner.id, name: owner.name, pending, has };
}

/** A browser's session, as a step that makes it more finds it. */
export interface At {
  /** The session's secret. */
  secret: string;
  browser: Browser;
}

/** What setting up a second factor gives: codes for the day it is lost, and the session's new secret. */
export interface SetUp {
  codes: string[];
  secret: string;
}

/**
 * Sets up the second factor: the code proves that the authenticator has the secret. Recovery codes
 * are made anew and told this once. A session that waited for it is whole.
 */
export async function setUpSecondFactor(
  act: Act,
  wanted: { secret: string; code: string },
  at: At,
): Promise<Result<SetUp>> {
  const unproven = whyUnproven(act);
  if (unproven) return refuse(unproven);
  const waiting = await awaited(act.db, at.secret, act.now);
  return write(act, async (change) => {
    const personId = act.personId ?? "";
    const [row] = await change.tx.select().from(person).where(eq(person.id, personId)).for("update");
    if (row?.totpSecret)
      return refuse({
        code: "set-already",
        sentence: "You have a second factor. Take it away before you set up another.",
      });
    const step = /^[A-Z2-7]{32}$/.test(wanted.secret) ? stepOf(wanted.secret, wanted.code, null) : null;
    if (step === null)
      return refuse({
        code: "wrong-code",
        field: "code",
        sentence: "That is not the code the authenticator shows now.",
      });
    await change.tx
      .update(person)
      .set({ totpSecret: encipher(wanted.secret), totpStep: step })
      .where(eq(person.id, personId));
    const codes = await newRecoveryCodes(change, personId);
    change.happened(secondFactorSet, {}, { subjectId: personId });
    await tellOwner(change, personId, "factor-set", act);
    const secret = waiting
      ? await confirmSession(change, at.secret, personId, at.browser, act.baseUrl)
      : await raise(change, at.secret, { factor: true });
    return accept({ codes, secret });
  });
}

/** Takes one's second factor away; the password is asked, and it is refused while a role demands one. */
export async function dropSecondFactor(act: Act, password: string): Promise<Result<null>> {
  const wrong = await refuseWrongPassword(act, password);
  if (wrong) return refuse(wrong);
  return write(act, async (change) => {
    const personId = act.personId ?? "";
    if (!(await factorsOf(change.tx, personId)).passkey && (await isDemanded(change.tx, personId, change.now)))
      return refuse(DEMANDED);
    await change.tx.update(person).set({ totpSecret: null, totpStep: null }).where(eq(person.id, personId));
    await forgetIdleCodes(change, personId);
    change.happened(secondFactorDropped, {}, { subjectId: personId });
    await tellOwner(change, personId, "factor-dropped", act);
    return accept(null);
  });
}

/**
 * Makes a session that waits for it whole by the authenticator's code or a recovery code, each good once.
 *
 * @returns the session's new secret
 */
export async function giveSecondFactor(act: Act, code: string, { secret, browser }: At): Promise<Result<string>> {
  const personId = (await awaited(act.db, secret, act.now))?.personId;
  if (!personId) return refuse({ code: "sign-in", sentence: "That took too long. Sign in again." });
  const { refusal, forgive } = await attempt(act.db, { code: personId }, act.now);
  if (refusal) return refuse(refusal);
  const done = await write<string>({ ...act, personId }, async (change) => {
    const own = await spendCode(change, personId, code);
    if (!own && !(await spendRecoveryCode(change, personId, code)))
      return refuse({ code: "wrong-code", field: "code", sentence: "That code is not good, or was used already." });
    if (!own) await tellOwner(change, personId, "recovery-code", act);
    return accept(await confirmSession(change, secret, personId, browser, act.baseUrl));
  });
  if (done.ok) await forgive();
  return done;
}

/** Uses a code of the authenticator. The update names the step, so of two at once with the same code one is refused. */
async function spendCode({ tx }: Change, personId: string, code: string): Promise<boolean> {
  const [row] = await tx.select().from(person).where(eq(person.id, personId)).for("update");
  const step = row?.totpSecret ? stepOf(decipher(row.totpSecret), code, row.totpStep) : null;
  if (step === null) return false;
  const [{ affectedRows }] = await tx
    .update(person)
    .set({ totpStep: step })
    .where(and(eq(person.id, personId), or(isNull(person.totpStep), lt(person.totpStep, step))));
  return affectedRows > 0;
}

/** The time step a code belongs to, or null when it is wrong or not later than the last one used. By the machine's clock, as authenticators go. */
function stepOf(secret: string, code: string, last: number | null): number | null {
  const now = Date.now();
  const delta = authenticator(secret, "").validate({ token: code.replace(/\s/g, ""), window: 1, timestamp: now });
  if (delta === null) return null;
  const step = Math.floor(now / 1000 / PERIOD) + delta;
  return last !== null && step <= last ? null : step;
}

function authenticator(secret: string, email: string): TOTP {
  return new TOTP({ issuer: "Elenco", label: email || "Elenco", period: PERIOD, secret: Secret.fromBase32(secret) });
}
