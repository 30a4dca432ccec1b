import { randomBytes } from "node:crypto";
import { and, eq, isNull } from "drizzle-orm";
import { Secret } from "otpauth";
import type { Queryable } from "../db/client.ts";
import { passkey, person, recoveryCode } from "../db/schema/index.ts";
import type { Change } from "../write.ts";
import { secretId } from "./secrets.ts";

const CODES = 10;

/** What a person can give beside their password: an authenticator's code, a passkey. */
export async function factorsOf(db: Queryable, personId: string): Promise<{ code: boolean; passkey: boolean }> {
  const [[row], [key]] = await Promise.all([
    db.select({ secret: person.totpSecret }).from(person).where(eq(person.id, personId)),
    db.select({ id: passkey.id }).from(passkey).where(eq(passkey.personId, personId)).limit(1),
  ]);
  return { code: Boolean(row?.secret), passkey: key !== undefined };
}

/** Makes a person's recovery codes anew. @returns the codes, which are kept nowhere */
export async function newRecoveryCodes({ tx }: Change, personId: string): Promise<string[]> {
  const codes = Array.from({ length: CODES }, newRecoveryCode);
  await tx.delete(recoveryCode).where(eq(recoveryCode.personId, personId));
  await tx.insert(recoveryCode).values(codes.map((code) => ({ id: codeId(personId, code), personId })));
  return codes;
}

/** Uses a recovery code up. @returns false where it is none, or was used before */
export async function spendRecoveryCode({ tx, now }: Change, personId: string, code: string): Promise<boolean> {
  const [{ affectedRows }] = await tx
    .update(recoveryCode)
    .set({ usedAt: now })
    .where(and(eq(recoveryCode.id, codeId(personId, code)), isNull(recoveryCode.usedAt)));
  return affectedRows > 0;
}

/** Takes the codes away with the last factor they stand in for. */
export async function forgetIdleCodes({ tx }: Change, personId: string): Promise<void> {
  const left = await factorsOf(tx, personId);
  if (!left.code && !left.passkey) await tx.delete(recoveryCode).where(eq(recoveryCode.personId, personId));
}

/** Eighty random bits, in letters and digits that are not taken for one another, four by four. */
const newRecoveryCode = () =>
  Secret.fromHex(randomBytes(10).toString("hex"))
    .base32.toLowerCase()
    .replace(/(.{4})(?!$)/g, "$1-");

const codeId = (personId: string, code: string) =>
  secretId(`${personId} ${code.toLowerCase().replace(/[^a-z2-7]/g, "")}`);
