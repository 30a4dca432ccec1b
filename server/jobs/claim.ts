import { and, asc, eq, gt, isNull, lte, or } from "drizzle-orm";
import { pastCollisions } from "../db/collisions.ts";
import { task } from "../db/schema/index.ts";
import type { TaskKind } from "../tasks/schedule.ts";
import type { Worker } from "./job.ts";

export type Task = typeof task.$inferSelect;

/** Which tasks are free to be claimed. @param now the publication's time */
const free = (now: number, machine = Date.now()) =>
  and(lte(task.dueAt, now), or(isNull(task.leaseUntil), lte(task.leaseUntil, machine)));

/** The kinds of task of which some are due and free, by one query. @param now the publication's time */
export async function dueKinds({ db }: Worker, now: number): Promise<Set<string>> {
  const rows = await db.selectDistinct({ kind: task.kind }).from(task).where(free(now));
  return new Set(rows.map(({ kind }) => kind));
}

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
  const [{ affectedRows }] = await pastCollisions(() =>
    db
      .update(task)
      .set({ leaseOwner: node, leaseUntil: machine + lease })
      .where(and(eq(task.kind, kind), free(now, machine)))
      .orderBy(asc(task.dueAt))
      .limit(batch),
  );
  if (affectedRows === 0) return [];
  return db
    .select()
    .from(task)
    .where(and(eq(task.kind, kind), lte(task.dueAt, now), eq(task.leaseOwner, node), gt(task.leaseUntil, machine)))
    .orderBy(asc(task.dueAt));
}

/** What this node claimed, as it was claimed: a task moved meanwhile is another. */
const held = ({ id, dueAt }: Task, node: string) =>
  and(eq(task.id, id), eq(task.dueAt, dueAt), eq(task.leaseOwner, node));

const change = ({ db, node }: Worker, one: Task, to: Partial<Task>) =>
  pastCollisions(() => db.update(task).set(to).where(held(one, node)));

/** Takes tasks away that are done. */
export const finish = async ({ db, node }: Worker, ...done: Task[]): Promise<void> => {
  await pastCollisions(() => db.delete(task).where(or(...done.map((one) => held(one, node)))));
};

/** Puts a task off to an instant of the publication's time. */
export const putOff = async (worker: Worker, one: Task, dueAt: number): Promise<void> => {
  await change(worker, one, { dueAt, attempts: one.attempts + 1, leaseOwner: null, leaseUntil: null });
};

/** Lets a task that failed rest, twice as long each time, up to an hour of the machine's time. */
export const letRest = async (worker: Worker, one: Task): Promise<void> => {
  const rest = Math.min(3_600_000, 2_000 * 2 ** one.attempts);
  await change(worker, one, { attempts: one.attempts + 1, leaseOwner: null, leaseUntil: Date.now() + rest });
};

/** Whether this node still holds a task; its lease then begins anew. */
export async function renew(worker: Worker, one: Task, lease: number): Promise<boolean> {
  const [{ affectedRows }] = await change(worker, one, { leaseUntil: Date.now() + lease });
  return affectedRows > 0;
}
