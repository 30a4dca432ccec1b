import { and, eq, gt, isNull, lt } from "drizzle-orm";
import type { Queryable, Transaction } from "../db/client.ts";
import { requester, requesterKey } from "../db/schema/index.ts";
import { newSecret, secretId } from "../people/secrets.ts";

const DAY = 86_400_000;
/** So long a link in a mail opens something, and so long the browser it was opened in is known, in milliseconds. */
const LENGTHS = { link: 14 * DAY, browser: 30 * DAY };
/** What ran out is kept so long, so that a link that is over can still be told from one that never was. */
const KEPT = 90 * DAY;

/** How long a browser stays known, in milliseconds. */
export const ASKED_LENGTH = LENGTHS.browser;

/** Makes what lets a requester in. @returns its secret, which is told this once */
export async function newSecretKey(
  tx: Transaction,
  requesterId: string,
  sort: "link" | "browser",
  now: number,
): Promise<string> {
  const secret = newSecret();
  await tx.delete(requesterKey).where(lt(requesterKey.expiresAt, now - KEPT));
  await tx.insert(requesterKey).values({ id: secretId(secret), requesterId, sort, expiresAt: now + LENGTHS[sort] });
  return secret;
}

/** Whose a link is, whether or not it is good still; null where there is no such link. */
export async function linkOf(db: Queryable, secret: string, now: number) {
  const [row] = await db
    .select({ requesterId: requester.id, email: requester.email, key: requesterKey })
    .from(requesterKey)
    .innerJoin(requester, eq(requester.id, requesterKey.requesterId))
    .where(and(eq(requesterKey.id, secretId(secret)), eq(requesterKey.sort, "link")));
  return row ? { ...row, good: row.key.usedAt === null && row.key.expiresAt > now } : null;
}

/** Uses a link up. @returns whose it is; null where it was used or is over */
export async function useLink(tx: Transaction, secret: string, now: number): Promise<string | null> {
  const good = and(
    eq(requesterKey.id, secretId(secret)),
    eq(requesterKey.sort, "link"),
    isNull(requesterKey.usedAt),
    gt(requesterKey.expiresAt, now),
  );
  const [row] = await tx.select().from(requesterKey).where(good).for("update");
  if (!row) return null;
  await tx.update(requesterKey).set({ usedAt: now }).where(eq(requesterKey.id, row.id));
  return row.requesterId;
}

/** Whom a browser is known as; null for nobody. */
export async function requesterBy(db: Queryable, secret: string | null, now: number) {
  if (secret === null) return null;
  const [row] = await db
    .select({ id: requester.id, email: requester.email, name: requester.name })
    .from(requesterKey)
    .innerJoin(requester, eq(requester.id, requesterKey.requesterId))
    .where(
      and(eq(requesterKey.id, secretId(secret)), eq(requesterKey.sort, "browser"), gt(requesterKey.expiresAt, now)),
    );
  return row ?? null;
}
export type Requester = NonNullable<Awaited<ReturnType<typeof requesterBy>>>;
