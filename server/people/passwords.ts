import { randomBytes } from "node:crypto";
import { hash, verify } from "@node-rs/argon2";
import { dictionary } from "@zxcvbn-ts/language-common";
import { eq } from "drizzle-orm";
import { accept, type Refusal, type Result, refuse } from "#core/refusal.ts";
import { person } from "../db/schema/index.ts";
import { type Act, whyOnlyLooking, write } from "../write.ts";
import { attempt } from "./attempts.ts";
import { provenFrom, raise } from "./sessions.ts";

const SHORTEST = 10;
const LONGEST = 200;

/** A password's argon2id hash, with the parameters OWASP recommends (19 MiB, two passes, one lane). */
export const hashPassword = (password: string) => hash(password, { memoryCost: 19_456, timeCost: 2, parallelism: 1 });

/** Compared against when there is no such account, so that the time an answer takes tells nothing. */
const decoy = hashPassword(randomBytes(16).toString("hex"));

/** Whether a password fits a stored hash; takes as long where there is none. */
export const fits = async (stored: string | null | undefined, password: string) =>
  (await verify(stored ?? (await decoy), password)) && Boolean(stored);

/**
 * Why a password cannot be chosen, or null. It is long, and none that is tried first: not one many
 * people have chosen, with or without digits and marks around it, and not what everybody knows of its owner.
 *
 * @param known words about whose it is to be: their name, their mail address, the publication
 */
export function refusePassword(password: string, known: readonly string[]): Refusal | null {
  const why = weaknessOf(password, known);
  return why ? { code: "weak", field: "password", sentence: why } : null;
}

function weaknessOf(password: string, known: readonly string[]): string | null {
  const length = [...password].length;
  if (length < SHORTEST) return `A password has at least ${SHORTEST} characters.`;
  if (length > LONGEST) return `A password has at most ${LONGEST} characters.`;
  if (new Set(password).size < 4) return "A password made of so few letters is guessed at once.";
  const [whole, bare] = [password.toLowerCase(), lettersOf(password)];
  if (common.has(whole) || common.has(bare)) return "Many people have chosen that password, so it is tried first.";
  const own = known.flatMap((one) => [lettersOf(one), ...one.split(/[\s@]/).map(lettersOf)]);
  if (bare && own.includes(bare)) return "That is what everybody knows of you, so it is tried first.";
  return null;
}

const lettersOf = (text: string) => text.toLowerCase().replace(/[^\p{L}]/gu, "");
const common = new Set(dictionary["passwords-common"]);

/** Refuses when this is not the acting person's password; too many wrong ones are refused for a while. */
export async function refuseWrongPassword(act: Act, password: string): Promise<Refusal | null> {
  const looking = whyOnlyLooking(act);
  if (looking) return looking;
  const personId = act.personId ?? "";
  const { refusal, forgive } = await attempt(act.db, { code: personId }, act.now);
  if (refusal) return refusal;
  const [found] = await act.db.select().from(person).where(eq(person.id, personId));
  if (await fits(found?.passwordHash, password)) {
    await forgive();
    return null;
  }
  return { code: "wrong-password", field: "old", sentence: "That is not your present password." };
}

/**
 * Gives one's password once more, so that access may be acted on for a while.
 *
 * @param secret the session's
 * @returns its new secret
 */
export async function proveAnew(act: Act, password: string, secret: string): Promise<Result<string>> {
  const wrong = await refuseWrongPassword(act, password);
  if (wrong) return refuse(wrong);
  return write(act, async (change) => accept(await raise(change, secret, { provenUntil: provenFrom(change.now) })));
}
