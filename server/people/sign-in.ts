import { eq } from "drizzle-orm";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { person } from "../db/schema/index.ts";
import type { Act } from "../write.ts";
import { countAttempt, refuseTooMany } from "./attempts.ts";
import { fits } from "./passwords.ts";
import { asksSecondFactor } from "./second-factor.ts";
import { type Browser, openSession } from "./sessions.ts";

/** What a sign-in came to: the cookie's secret, and whether a second factor is asked before it opens anything. */
export interface Entered {
  secret: string;
  confirmed: boolean;
}

/**
 * Signs a person in by mail address and password.
 *
 * @returns a refusal that does not tell, by its words or its time, whether the account exists
 */
export async function signIn(act: Act, email: string, password: string, browser: Browser): Promise<Result<Entered>> {
  const account = email.trim().toLowerCase();
  const counted = { address: browser.address, account };
  const refusal = await refuseTooMany(act.db, counted, act.now);
  if (refusal) return refuse(refusal);
  const [found] = await act.db.select().from(person).where(eq(person.email, account));
  if (!(await fits(found?.passwordHash, password)) || !found?.active) {
    await countAttempt(act.db, counted, act.now);
    return refuse({ code: "sign-in", sentence: "That address and password do not belong together." });
  }
  return enter(act, found.id, browser);
}

/** Opens a session for a person whose password is right, half open where a second factor is asked. */
export async function enter(act: Act, personId: string, browser: Browser): Promise<Result<Entered>> {
  const confirmed = !(await asksSecondFactor(act.db, personId, act.now));
  const opened = await openSession(act, personId, browser, confirmed);
  return opened.ok ? accept({ secret: opened.value, confirmed }) : opened;
}
