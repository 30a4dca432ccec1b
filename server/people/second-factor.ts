import { createHash, randomBytes } from "node:crypto";
import { and, eq, isNull, lt, or } from "drizzle-orm";
import { Secret, TOTP } from "otpauth";
import { toDataURL } from "qrcode";
import { inForce } from "#core/access/decide.ts";
import { secondFactorDropped, secondFactorSet } from "#core/events/people.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { loadHolder } from "../access/holders.ts";
import type { Queryable } from "../db/client.ts";
import { person, recoveryCode, role } from "../db/schema/index.ts";
import { type Act, type Change, write } from "../write.ts";
import { countAttempt, refuseTooMany } from "./attempts.ts";
import { refuseWrongPassword } from "./passwords.ts";
import { decipher, encipher } from "./secrets.ts";
import { confirmSession, halfOpen } from "./sessions.ts";

/** Seconds a code is good for (RFC 6238); the one before and the one after are taken too, for clocks that differ. */
const PERIOD = 30;
const CODES = 10;

/** Whether a person signs in with a second factor: they set one up, or a role of theirs asks for it. */
export async function asksSecondFactor(db: Queryable, personId: string, now: number): Promise<boolean> {
  const [row] = await db.select({ secret: person.totpSecret }).from(person).where(eq(person.id, personId));
  return Boolean(row?.secret) || demandsSecondFactor(db, personId, now);
}

/** Whether a role a person holds now demands a second factor. */
export async function demandsSecondFactor(db: Queryable, personId: string, now: number): Promise<boolean> {
  const [holder, roles] = await Promise.all([
    loadHolder(db, personId),
    db.select({ key: role.key }).from(role).where(eq(role.secondFactor, true)),
  ]);
  const demanding = new Set(roles.map((one) => one.key));
  return (holder?.grants ?? []).some((grant) => demanding.has(grant.roleKey) && inForce(grant, now));
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

/** Whose second factor a half-open session waits for; `pending` where they have none yet and are to set one up. */
export async function awaited(
  db: Queryable,
  secret: string | null,
  now: number,
): Promise<{ personId: string; name: string; pending: Pending | null } | null> {
  const personId = await halfOpen(db, secret, now);
  const [row] = personId ? await db.select().from(person).where(eq(person.id, personId)) : [];
  if (!row) return null;
  return { personId: row.id, name: row.name, pending: row.totpSecret ? null : await newAuthenticator(row.email) };
}

/**
 * Sets up the second factor: the code proves that the authenticator has the secret. Recovery codes
 * are made anew and told this once.
 *
 * @param browserSecret of a half-open session that this makes whole; null for one that is whole
 * @returns the recovery codes
 */
export function setUpSecondFactor(
  act: Act,
  wanted: { secret: string; code: string },
  browserSecret: string | null = null,
): Promise<Result<string[]>> {
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
    await change.tx.delete(recoveryCode).where(eq(recoveryCode.personId, personId));
    const codes = Array.from({ length: CODES }, () =>
      randomBytes(5)
        .toString("hex")
        .replace(/(.{5})/, "$1-"),
    );
    await change.tx.insert(recoveryCode).values(codes.map((code) => ({ id: codeId(personId, code), personId })));
    change.happened(secondFactorSet, {}, { subjectId: personId });
    if (browserSecret) await confirmSession(change, browserSecret, personId);
    return accept(codes);
  });
}

/** Takes one's second factor away; the password is asked, and it is refused while a role demands one. */
export async function dropSecondFactor(act: Act, password: string): Promise<Result<null>> {
  const wrong = await refuseWrongPassword(act, password);
  if (wrong) return refuse(wrong);
  return write(act, async (change) => {
    const personId = act.personId ?? "";
    if (await demandsSecondFactor(change.tx, personId, change.now))
      return refuse({ code: "demanded", sentence: "A role of yours asks for a second factor." });
    await change.tx.update(person).set({ totpSecret: null, totpStep: null }).where(eq(person.id, personId));
    await change.tx.delete(recoveryCode).where(eq(recoveryCode.personId, personId));
    change.happened(secondFactorDropped, {}, { subjectId: personId });
    return accept(null);
  });
}

/**
 * Makes a half-open session whole by the authenticator's code or a recovery code, each good once.
 *
 * @param secret the session's
 */
export async function giveSecondFactor(act: Act, secret: string, code: string): Promise<Result<null>> {
  const personId = await halfOpen(act.db, secret, act.now);
  if (!personId) return refuse({ code: "sign-in", sentence: "That took too long. Sign in again." });
  const refusal = await refuseTooMany(act.db, { code: personId }, act.now);
  if (refusal) return refuse(refusal);
  const done = await write<null>({ ...act, personId }, async (change) => {
    const good = (await spendCode(change, personId, code)) || (await spendRecoveryCode(change, personId, code));
    if (!good)
      return refuse({ code: "wrong-code", field: "code", sentence: "That code is not good, or was used already." });
    await confirmSession(change, secret, personId);
    return accept(null);
  });
  if (!done.ok) await countAttempt(act.db, { code: personId }, act.now);
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

async function spendRecoveryCode({ tx, now }: Change, personId: string, code: string): Promise<boolean> {
  const [{ affectedRows }] = await tx
    .update(recoveryCode)
    .set({ usedAt: now })
    .where(and(eq(recoveryCode.id, codeId(personId, code)), isNull(recoveryCode.usedAt)));
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

const codeId = (personId: string, code: string) =>
  createHash("sha256").update(`${personId} ${code.trim().toLowerCase()}`).digest("hex");
