import { randomBytes } from "node:crypto";
import { hash, verify } from "@node-rs/argon2";
import { eq } from "drizzle-orm";
import type { Refusal } from "#core/refusal.ts";
import { person } from "../db/schema/index.ts";
import type { Act } from "../write.ts";
import { countAttempt, refuseTooMany } from "./attempts.ts";

const SHORTEST = 10;
const LONGEST = 200;

/** A password's argon2id hash, with the parameters OWASP recommends (19 MiB, two passes, one lane). */
export const hashPassword = (password: string) => hash(password, { memoryCost: 19_456, timeCost: 2, parallelism: 1 });

/** Compared against when there is no such account, so that the time an answer takes tells nothing. */
const decoy = hashPassword(randomBytes(16).toString("hex"));

/** Whether a password fits a stored hash; takes as long where there is none. */
export const fits = async (stored: string | null | undefined, password: string) =>
  (await verify(stored ?? (await decoy), password)) && Boolean(stored);

/** Why a password cannot be chosen, or null. Length is what counts; nothing else is asked of it. */
export function refusePassword(password: string): Refusal | null {
  const length = [...password].length;
  if (length < SHORTEST)
    return { code: "weak", field: "password", sentence: `A password has at least ${SHORTEST} characters.` };
  if (length > LONGEST)
    return { code: "weak", field: "password", sentence: `A password has at most ${LONGEST} characters.` };
  if (new Set(password).size < 4)
    return { code: "weak", field: "password", sentence: "A password made of so few letters is guessed at once." };
  return null;
}

/** Refuses when this is not the acting person's password; too many wrong ones are refused for a while. */
export async function refuseWrongPassword(act: Act, password: string): Promise<Refusal | null> {
  const counted = { code: act.personId ?? "" };
  const refusal = await refuseTooMany(act.db, counted, act.now);
  if (refusal) return refusal;
  const [found] = await act.db.select().from(person).where(eq(person.id, counted.code));
  if (await fits(found?.passwordHash, password)) return null;
  await countAttempt(act.db, counted, act.now);
  return { code: "wrong-password", field: "old", sentence: "That is not your present password." };
}
