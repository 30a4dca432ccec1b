import { and, eq, lt } from "drizzle-orm";
import type { Queryable } from "../db/client.ts";
import { knownBrowser } from "../db/schema/index.ts";
import type { Change } from "../write.ts";
import { tellOwner } from "./letters.ts";
import { secretId } from "./secrets.ts";

/** So long a browser nobody signs in with is still known, in milliseconds; browsers keep no cookie longer. */
export const KNOWN_FOR = 400 * 24 * 3_600_000;

/** The browser a session is opened in. */
export interface Browser {
  address: string;
  agent: string;
  /** What it was given to be known by when somebody comes back. */
  token?: string;
  /** The secret of the session it had until now, which a new one replaces. */
  session?: string | null;
}

/** Whether somebody signed in with this browser before. */
export async function isKnown(db: Queryable, personId: string, { token }: Browser): Promise<boolean> {
  if (!token) return false;
  const at = and(eq(knownBrowser.id, secretId(token)), eq(knownBrowser.personId, personId));
  return (await db.select({ id: knownBrowser.id }).from(knownBrowser).where(at)).length > 0;
}

/** Remembers that a person signed in with this browser; where they know others only, they are written to. */
export async function remember(change: Change, personId: string, browser: Browser, baseUrl: string): Promise<void> {
  const { tx, now } = change;
  const own = eq(knownBrowser.personId, personId);
  await tx.delete(knownBrowser).where(and(own, lt(knownBrowser.at, now - KNOWN_FOR)));
  const known = await tx.select({ id: knownBrowser.id }).from(knownBrowser).where(own);
  const id = secretId(browser.token ?? "");
  if (known.length > 0 && !known.some((one) => one.id === id)) {
    const where = `${browser.agent || "a browser without a name"}, from ${browser.address}`;
    await tellOwner(change, personId, "browser", { baseUrl, where });
  }
  if (browser.token)
    await tx
      .insert(knownBrowser)
      .values({ id, personId, at: now })
      .onDuplicateKeyUpdate({ set: { at: now } });
}

/** Forgets every browser a person is known by. */
export async function forgetBrowsers({ tx }: Change, personId: string): Promise<void> {
  await tx.delete(knownBrowser).where(eq(knownBrowser.personId, personId));
}
