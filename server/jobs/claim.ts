import { and, asc, eq, isNull, lte, or, type SQL } from "drizzle-orm";
import type { MySqlColumn } from "drizzle-orm/mysql-core";
import type { outbox, release, workflowAdoption } from "../db/schema/index.ts";
import type { Worker } from "./job.ts";

type Leased = typeof outbox | typeof release | typeof workflowAdoption;

/**
 * Claims due rows for this node by one conditional update, the earliest first. A claim that is not
 * honoured within its lease, because its node died, is free for the others; leases run by the
 * machine's clock, whatever the publication's says.
 *
 * @param due which rows are due
 * @param order the column that says since when
 * @param lease in milliseconds
 * @returns the rows this node now holds
 */
export async function claimDue<T extends Leased>(
  { db, node }: Worker,
  table: T,
  due: SQL | undefined,
  order: MySqlColumn,
  { lease, batch }: { lease: number; batch: number },
): Promise<T["$inferSelect"][]> {
  const now = Date.now();
  const free = or(isNull(table.leaseUntil), lte(table.leaseUntil, now));
  await db
    .update(table as typeof outbox)
    .set({ leaseOwner: node, leaseUntil: now + lease })
    .where(and(due, free))
    .orderBy(asc(order))
    .limit(batch);
  return db
    .select()
    .from(table as typeof outbox)
    .where(and(due, eq(table.leaseOwner, node)))
    .orderBy(asc(order))
    .limit(batch) as Promise<T["$inferSelect"][]>;
}
