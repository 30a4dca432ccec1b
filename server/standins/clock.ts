import { eq, sql } from "drizzle-orm";
import type { Database } from "../db/client.ts";
import { clock } from "../db/schema/index.ts";

const FRESH = 200;

/** The machine's clock. */
export const machineClock = async () => Date.now();

/** A clock that runs ahead of the machine's by what the database says, the same on every node. */
export function standInClock(db: Database): () => Promise<number> {
  let ahead = 0;
  let read = 0;
  return async () => {
    if (Date.now() - read > FRESH) {
      const [row] = await db.select({ ahead: clock.ahead }).from(clock).where(eq(clock.id, 1));
      ahead = row?.ahead ?? 0;
      read = Date.now();
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
}
