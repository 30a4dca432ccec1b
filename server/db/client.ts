import { DrizzleQueryError } from "drizzle-orm/errors";
import { drizzle, type MySql2Database } from "drizzle-orm/mysql2";
import mysql from "mysql2";
import * as schema from "./schema/index.ts";

export type Database = MySql2Database<typeof schema> & { $client: mysql.Pool };
export type Transaction = Parameters<Parameters<Database["transaction"]>[0]>[0];
/** What a query runs on: the pool, or the transaction of a write. */
export type Queryable = Database | Transaction;

/**
 * Opens a pool. Connections speak UTC and read what is committed, so that the only locks are
 * those a command asks for.
 *
 * @param onStatement told of every statement's text, for counting
 */
export function connect(url: string, onStatement?: (sql: string) => void): Database {
  const pool = mysql.createPool({
    uri: url,
    connectionLimit: 16,
    dateStrings: true,
    timezone: "Z",
    supportBigNumbers: true,
    // Otherwise the stack is kept for every query.
    trace: false,
  });
  pool.on("connection", (connection) => {
    connection.query("SET time_zone = '+00:00', tx_isolation = 'READ-COMMITTED'");
  });
  return drizzle(pool, {
    schema,
    mode: "default",
    logger: onStatement ? { logQuery: onStatement } : false,
  }) as Database;
}

/** Ends the pool once what runs on it is done. */
export const disconnect = (db: Database) => new Promise<void>((resolve) => db.$client.end(() => resolve()));

/** MariaDB's error number, however deep it is wrapped; 0 for anything else. */
export function errorNumber(error: unknown): number {
  for (let cause = error; cause instanceof Error; cause = cause.cause) {
    if ("errno" in cause && typeof cause.errno === "number") return cause.errno;
  }
  return 0;
}

/** MariaDB's numbers for a disk or a table that is full. */
const FULL = new Set([1021, 1114, 1041]);

/** Whether a disk is full: where files are kept, or the database's. */
export function isDiskFull(error: unknown): boolean {
  if (FULL.has(errorNumber(error))) return true;
  for (let cause = error; cause instanceof Error; cause = cause.cause)
    if ("code" in cause && (cause.code === "ENOSPC" || cause.code === "EDQUOT")) return true;
  return false;
}

/** Whether the database is not to be had at the moment: gone, starting, or out of connections. */
export function isDatabaseGone(error: unknown): boolean {
  for (let cause = error; cause instanceof Error; cause = cause.cause) {
    const code = "code" in cause ? String(cause.code) : "";
    if (
      /^(ECONNREFUSED|ECONNRESET|EPIPE|ETIMEDOUT|ENOENT|PROTOCOL_CONNECTION_LOST|ER_SERVER_SHUTDOWN|ER_CON_COUNT_ERROR)$/.test(
        code,
      )
    )
      return true;
    if (cause instanceof AggregateError) return cause.errors.some(isDatabaseGone);
    if (/closed state|Connection lost/.test(cause.message)) return true;
  }
  return false;
}

/** What of a failed query may be told: its code and its statement, without a value. */
export interface FailedStatement {
  type: "query";
  code: string;
  errno: number;
  sqlState: string;
  /** Of what is longer, the beginning. */
  statement: string;
}

const TOLD = 500;

/** What may be told of an error, if a query that failed is at its bottom; null for any other. */
export function failedStatement(error: unknown): FailedStatement | null {
  let statement = "";
  for (let cause = error; cause instanceof Error; cause = cause.cause) {
    if (cause instanceof DrizzleQueryError) statement = withoutValues(cause.query);
    if ("sqlState" in cause || (statement && "code" in cause)) {
      const { code = "", errno = 0, sqlState = "", sql = "" } = cause as Partial<mysql.QueryError> & { sql?: string };
      return { type: "query", code, errno, sqlState, statement: statement || withoutValues(sql) };
    }
  }
  return statement ? { type: "query", code: "", errno: 0, sqlState: "", statement } : null;
}

const withoutValues = (sql: string) => sql.replace(/'(?:[^'\\]|\\.|'')*'/gs, "?").slice(0, TOLD);
