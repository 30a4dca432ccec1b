import { eq } from "drizzle-orm";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { person } from "../db/schema/index.ts";
import type { Act } from "../write.ts";
import { attempt } from "./attempts.ts";
import { type Browser, isKnown } from "./browsers.ts";
import { fits } from "./passwords.ts";
import { asksSecondFactor } from "./second-factor.ts";
import { openSession } from "./sessions.ts";

/** What a sign-in came to: the cookie's secret, and whether a second factor is asked before it opens anything. */
export interface Entered {
  secret: string;
  confirmed: boolean;
}

/**
 * Signs a person in by mail address and password. Attempts from a browser the account knows are counted
 * by themselves: strangers who guess do not keep its owner out.
 *
 * @returns a refusal that does not tell, by its words or its time, whether the account exists
 */
export async function signIn(act: Act, email: string, password: string, browser: Browser): Promise<Result<Entered>> {
  const account = email.trim().toLowerCase();
  const [found] = await act.db.select().from(person).where(eq(person.email, account));
  // Asked also where there is no account, so that the time it takes tells nothing.
  const known = await isKnown(act.db, found?.id ?? "", browser);
  const counted = known ? { browser: `${browser.token} ${account}` } : { address: browser.address, account };
  const { refusal, forgive } = await attempt(act.db, counted, act.now);
  if (refusal) return refuse(refusal);
  if (!(await fits(found?.passwordHash, password)) || !found?.active)
    return refuse({ code: "sign-in", sentence: "That address and password do not belong together." });
  await forgive();
  return enter(act, found.id, browser);
}

/**
 * Opens a session for a person whose password is right, half open where a second factor is asked.
 *
 * @param untold whether they came by the stand-in's list, without any password
 */
export async function enter(act: Act, personId: string, browser: Browser, untold = false): Promise<Result<Entered>> {
  const confirmed = !(await asksSecondFactor(act.db, personId, act.now));
  const opened = await openSession(act, personId, browser, { confirmed, untold });
  return opened.ok ? accept({ secret: opened.value, confirmed }) : opened;
}
