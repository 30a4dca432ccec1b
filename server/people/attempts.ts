import { createHash } from "node:crypto";
import { and, count, gte, inArray, lt } from "drizzle-orm";
import type { Refusal } from "#core/refusal.ts";
import type { Queryable } from "../db/client.ts";
import { newId } from "../db/schema/columns.ts";
import { signInFailure } from "../db/schema/index.ts";
import type { Act } from "../write.ts";

const WINDOW = 15 * 60_000;
/** How often a person does in a quarter of an hour what many are told of, or what is kept for ever. */
const OFTEN = { comment: 120, guest: 30, "version name": 60, assistant: 30 };
/** How many attempts fail in a quarter of an hour before more are refused, by what they are counted for. */
const LIMITS = { address: 30, account: 10, browser: 10, code: 6, letter: 5, request: 20, mail: 120, ...OFTEN };

/** What attempts are counted for: an address of the network, an account, a browser an account knows, a person's codes, letters to an address, what comes from outside. */
export type Counted = { [sort in keyof typeof LIMITS]?: string };

/** An attempt that was counted: refused, or to be judged now. */
export interface Attempt {
  refusal: Refusal | null;
  /** Takes it out of the count: it turned out right. */
  forgive(): Promise<void>;
}

/**
 * Counts an attempt before it is judged, so that of many at once no more are judged than may be; and
 * refuses it where there were too many lately. What is refused does not count, so that nobody keeps a
 * door shut by knocking. Outside of any transaction: what fails must be counted all the same.
 */
export async function attempt(db: Queryable, counted: Counted, now: number): Promise<Attempt> {
  const limits = new Map(entries(counted).map(([sort, value]) => [bucket(sort, value), LIMITS[sort]]));
  const ids = new Map([...limits.keys()].map((of) => [of, newId()]));
  const forgive = async () => {
    await db.delete(signInFailure).where(inArray(signInFailure.id, [...ids.values()]));
  };
  await db.insert(signInFailure).values([...ids].map(([of, id]) => ({ id, bucket: of, at: now })));
  await db.delete(signInFailure).where(lt(signInFailure.at, now - WINDOW));
  const rows = await db
    .select({ bucket: signInFailure.bucket, made: count() })
    .from(signInFailure)
    .where(and(inArray(signInFailure.bucket, [...limits.keys()]), gte(signInFailure.at, now - WINDOW)))
    .groupBy(signInFailure.bucket);
  if (rows.every((row) => row.made <= (limits.get(row.bucket) ?? 0))) return { refusal: null, forgive };
  await forgive();
  const what = entries(counted).some(([sort]) => sort in OFTEN) ? "That is very often" : "Too many attempts";
  const sentence = `${what}. Wait a quarter of an hour and try again.`;
  return { refusal: { code: "rate-limited", sentence }, forgive };
}

/** Counts that somebody does something of which there must not be too much. @returns why they may not for now, or null */
export const refuseOften = async ({ db, personId, now }: Act, what: keyof typeof OFTEN): Promise<Refusal | null> =>
  (await attempt(db, { [what]: personId ?? "" }, now)).refusal;

const entries = (counted: Counted) => Object.entries(counted) as [keyof typeof LIMITS, string][];
const bucket = (sort: string, value: string) => createHash("sha256").update(`${sort} ${value}`).digest("hex");
