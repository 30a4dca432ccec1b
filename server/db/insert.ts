import type { MySqlTable } from "drizzle-orm/mysql-core";
import type { Transaction } from "./client.ts";

const MOST = 1_000;

/** Inserts rows, however many, in statements of a thousand: one alone could outgrow what the server takes. */
export async function insertAll<T extends MySqlTable>(
  tx: Transaction,
  table: T,
  rows: readonly T["$inferInsert"][],
): Promise<void> {
  for (let i = 0; i < rows.length; i += MOST) await tx.insert(table).values(rows.slice(i, i + MOST) as never);
}
