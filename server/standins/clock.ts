import { eq, sql } from "drizzle-orm";
import { type Database, isDatabaseGone } from "../db/client.ts";
import { clock, session } from "../db/schema/index.ts";

/** The machine's clock. */
export const machineClock = async () => Date.now();

/**
 * A clock that runs ahead of the machine's by what the database says, the same on every node. While
 * the database is away it goes on by what it last said, so that a form can still be answered.
 */
export function standInClock(db: Database): () => Promise<number> {
  let ahead = 0;
  return async () => {
    try {
      const [row] = await db.select({ ahead: clock.ahead }).from(clock).where(eq(clock.id, 1));
      ahead = row?.ahead ?? 0;
    } catch (error) {
      if (!isDatabaseGone(error)) throw error;
    }
    return Date.now() + ahead;
  };
}

/** Moves the stand-in clock forward; it never runs backwards. @param milliseconds more than nothing */
export async function advanceClock(db: Database, milliseconds: number): Promise<void> {
  await db
    .insert(clock)
    .values({ id: 1, ahead: milliseconds })
    .onDuplicateKeyUpdate({ set: { ahead: sql`${clock.ahead} + ${milliseconds}` } });
  // Nobody was idle for a time that did not pass.
  await db.update(session).set({ seenAt: sql`TIMESTAMPADD(MICROSECOND, ${milliseconds * 1000}, ${session.seenAt})` });
}
