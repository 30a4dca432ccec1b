import type { Transaction } from "../db/client.ts";
import { schedule } from "../tasks/schedule.ts";

/**
 * Lays down that what people may do has changed: their seats, and the releases they answer for, are
 * looked at again, at once and whenever a grant of theirs begins or ends.
 */
export async function accessChanged(
  { tx, now }: { tx: Transaction; now: number },
  people: readonly string[],
): Promise<void> {
  for (const subject of new Set(people)) await schedule(tx, { kind: "access", subject, dueAt: now });
}
