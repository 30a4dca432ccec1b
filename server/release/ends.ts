import { arriveBy } from "#core/time/due.ts";
import type { Transaction } from "../db/client.ts";
import { loadPlaces } from "../sections/places.ts";
import { scheduleAll } from "../tasks/schedule.ts";

/** So long before it ends its owners are told, in working time. */
const BEFORE = "3wd";
/** Lays down when what readers see ends by itself, and when its owners are reminded of that. */
export async function scheduleEnds(
  tx: Transaction,
  now: number,
  rows: readonly { id: string; endsAt: number | null }[],
): Promise<void> {
  const ending = rows.flatMap(({ id, endsAt }) => (endsAt === null ? [] : [{ id, endsAt }]));
  if (ending.length === 0) return;
  const { calendar } = await loadPlaces(tx);
  const tasks = ending.flatMap(({ id, endsAt }) => [
    { kind: "ending" as const, subject: id, dueAt: endsAt },
    { kind: "ending-soon" as const, subject: id, dueAt: Math.max(now, arriveBy(calendar, endsAt, BEFORE)) },
  ]);
  await scheduleAll(tx, tasks);
}
