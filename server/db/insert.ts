import { setImmediate as breathe } from "node:timers/promises";
import { getTableColumns, getTableName, sql } from "drizzle-orm";
import type { MySqlTable } from "drizzle-orm/mysql-core";
import { format, raw, type SqlValue } from "mysql2";
import type { Transaction } from "./client.ts";

const MOST = 500;
const UNSET = raw("DEFAULT");

/**
 * Inserts rows, however many, in statements of a few hundred: one alone could outgrow what the server
 * takes, and making it would hold the node. While the database takes in one, the next is made. The text
 * is made by the driver at once; the query builder would look at each value a dozen times.
 *
 * @param rows gone through once, so that they may be computed as they are needed
 */
export async function insertAll<T extends MySqlTable>(
  tx: Transaction,
  table: T,
  rows: Iterable<T["$inferInsert"]>,
): Promise<void> {
  const columns = Object.entries(getTableColumns(table)).filter(([, column]) => !column.generated);
  const names = columns.map(([, column]) => column.name);
  const valuesOf = (row: Record<string, unknown>) =>
    columns.map(([key, column]) => {
      const value = row[key];
      return value === undefined ? UNSET : value === null ? null : (column.mapToDriverValue(value) as SqlValue);
    });
  let sent: Promise<unknown> = Promise.resolve();
  for (const some of inParts(rows)) {
    const text = format("INSERT INTO ?? (??) VALUES ?", [getTableName(table), names, some.map(valuesOf)]);
    await sent;
    sent = tx.execute(sql.raw(text));
    // Others have their turn; where the statement fails meanwhile, that is met here.
    if (some.length === MOST) await Promise.race([breathe(), sent]);
  }
  await sent;
}

function* inParts<T>(rows: Iterable<T>): Generator<T[]> {
  let part: T[] = [];
  for (const row of rows) {
    part.push(row);
    if (part.length === MOST) {
      yield part;
      part = [];
    }
  }
  if (part.length > 0) yield part;
}
