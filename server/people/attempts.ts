import { createHash } from "node:crypto";
import { and, count, gte, inArray, lt } from "drizzle-orm";
import type { Refusal } from "#core/refusal.ts";
import type { Queryable } from "../db/client.ts";
import { newId } from "../db/schema/columns.ts";
import { signInFailure } from "../db/schema/index.ts";

const WINDOW = 15 * 60_000;
/** How many attempts fail in a quarter of an hour before more are refused, by what they are counted for. */
const LIMITS = { address: 30, account: 10, code: 6, letter: 5 };

/** What attempts are counted for: an address of the network, an account, a person's codes, letters to an address. */
export type Counted = { [sort in keyof typeof LIMITS]?: string };

/** Refuses when too many attempts were counted lately. */
export async function refuseTooMany(db: Queryable, counted: Counted, now: number): Promise<Refusal | null> {
  const limits = new Map(entries(counted).map(([sort, value]) => [bucket(sort, value), LIMITS[sort]]));
  const rows = await db
    .select({ bucket: signInFailure.bucket, made: count() })
    .from(signInFailure)
    .where(and(inArray(signInFailure.bucket, [...limits.keys()]), gte(signInFailure.at, now - WINDOW)))
    .groupBy(signInFailure.bucket);
  if (rows.every((row) => row.made < (limits.get(row.bucket) ?? 0))) return null;
  return { code: "rate-limited", sentence: "Too many attempts. Wait a quarter of an hour and try again." };
}

/** Counts an attempt. Outside of any transaction: what is refused must be counted all the same. */
export async function countAttempt(db: Queryable, counted: Counted, now: number): Promise<void> {
  const rows = entries(counted).map(([sort, value]) => ({ id: newId(), bucket: bucket(sort, value), at: now }));
  await db.insert(signInFailure).values(rows);
  await db.delete(signInFailure).where(lt(signInFailure.at, now - WINDOW));
}

const entries = (counted: Counted) => Object.entries(counted) as [keyof typeof LIMITS, string][];
const bucket = (sort: string, value: string) => createHash("sha256").update(`${sort} ${value}`).digest("hex");
