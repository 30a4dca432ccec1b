import { and, eq, inArray, sql } from "drizzle-orm";
import type { Queryable, Transaction } from "../db/client.ts";
import { insertAll } from "../db/insert.ts";
import { newId } from "../db/schema/columns.ts";
import { task } from "../db/schema/index.ts";

/** What can have to happen later; `server/jobs` says how each is done. */
export type TaskKind =
  | "release"
  | "mail"
  | "adoption"
  | "absence"
  | "access"
  | "guest"
  | "thinning"
  | "sweep"
  | "search"
  | "reminder"
  | "bundle"
  | "edition"
  | "edition-look"
  | "ending"
  | "ending-soon"
  | "rules"
  | "rule-again"
  | "thanks"
  | "call"
  | "feed"
  | "errand"
  | "forecast"
  | "letter";

/** Something that has to happen, and when. */
export interface Later {
  kind: TaskKind;
  /** What it is about: the id of a release, a mail, a person. */
  subject: string;
  /** Epoch milliseconds, by the publication's clock. */
  dueAt: number;
}

/** Lays something down for later; what was laid down for the same subject before is moved. */
export async function schedule(tx: Transaction, later: Later): Promise<void> {
  const moved = { dueAt: later.dueAt, attempts: 0, leaseOwner: null, leaseUntil: null };
  await tx
    .insert(task)
    .values({ id: newId(), ...later })
    .onDuplicateKeyUpdate({ set: moved });
}

/** Lays many things down for subjects that have none yet. */
export const scheduleAll = (tx: Transaction, later: readonly Later[]): Promise<void> =>
  insertAll(
    tx,
    task,
    later.map((one) => ({ id: newId(), ...one })),
  );

/** Lays something down that goes on for ever, unless it is there. */
export async function scheduleOnce(db: Queryable, later: Later): Promise<void> {
  await db
    .insert(task)
    .ignore()
    .values({ id: newId(), ...later });
}

/** Lays something down unless it will happen earlier anyway. */
export async function scheduleBy(tx: Transaction, later: Later): Promise<void> {
  await tx
    .insert(task)
    .values({ id: newId(), ...later })
    .onDuplicateKeyUpdate({ set: { dueAt: sql`LEAST(${task.dueAt}, VALUES(${sql.identifier(task.dueAt.name)}))` } });
}

/** Has every reminder there is counted anew: the calendar they go by is another. */
export async function remindAnew(tx: Transaction, now: number): Promise<void> {
  await tx.update(task).set({ dueAt: now }).where(eq(task.kind, "reminder"));
}

/** Takes back what is no longer to happen. */
export async function cancel(tx: Transaction, kind: TaskKind, subjects: readonly string[]): Promise<void> {
  if (subjects.length === 0) return;
  await tx.delete(task).where(and(eq(task.kind, kind), inArray(task.subject, [...subjects])));
}
