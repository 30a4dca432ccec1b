import { and, asc, eq, gt, isNull, lte, or } from "drizzle-orm";
import { task } from "../db/schema/index.ts";
import type { TaskKind } from "../tasks/schedule.ts";
import type { Worker } from "./job.ts";

export type Task = typeof task.$inferSelect;

/**
 * Claims due tasks of a kind for this node by one conditional update, the earliest first. A claim
 * that is not honoured within its lease, because its node died, is free for the others; leases run
 * by the machine's clock, whatever the publication's says.
 *
 * @param now the publication's time
 * @param lease in milliseconds
 * @returns the tasks this node now holds
 */
export async function claimDue(
  { db, node }: Worker,
  kind: TaskKind,
  now: number,
  { lease, batch }: { lease: number; batch: number },
): Promise<Task[]> {
  const machine = Date.now();
  const due = and(eq(task.kind, kind), lte(task.dueAt, now));
  const [{ affectedRows }] = await db
    .update(task)
    .set({ leaseOwner: node, leaseUntil: machine + lease })
    .where(and(due, or(isNull(task.leaseUntil), lte(task.leaseUntil, machine))))
    .orderBy(asc(task.dueAt))
    .limit(batch);
  if (affectedRows === 0) return [];
  return db
    .select()
    .from(task)
    .where(and(due, eq(task.leaseOwner, node), gt(task.leaseUntil, machine)))
    .orderBy(asc(task.dueAt));
}

/** What this node claimed, as it was claimed: a task moved meanwhile is another. */
const held = ({ id, dueAt }: Task, node: string) =>
  and(eq(task.id, id), eq(task.dueAt, dueAt), eq(task.leaseOwner, node));

/** Takes tasks away that are done. */
export const finish = async ({ db, node }: Worker, ...done: Task[]): Promise<void> => {
  await db.delete(task).where(or(...done.map((one) => held(one, node))));
};

/** Puts a task off to an instant of the publication's time. */
export const putOff = async ({ db, node }: Worker, one: Task, dueAt: number): Promise<void> => {
  await db
    .update(task)
    .set({ dueAt, attempts: one.attempts + 1, leaseOwner: null, leaseUntil: null })
    .where(held(one, node));
};

/** Lets a task that failed rest, twice as long each time, up to an hour of the machine's time. */
export const letRest = async ({ db, node }: Worker, one: Task): Promise<void> => {
  const rest = Math.min(3_600_000, 2_000 * 2 ** one.attempts);
  await db
    .update(task)
    .set({ attempts: one.attempts + 1, leaseOwner: null, leaseUntil: Date.now() + rest })
    .where(held(one, node));
};

/** Whether this node still holds a task; its lease then begins anew. */
export async function renew({ db, node }: Worker, one: Task, lease: number): Promise<boolean> {
  const [{ affectedRows }] = await db
    .update(task)
    .set({ leaseUntil: Date.now() + lease })
    .where(held(one, node));
  return affectedRows > 0;
}
