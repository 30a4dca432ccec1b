import { readFileSync } from "node:fs";
import path from "node:path";
import { sql } from "drizzle-orm";
import { migrate } from "drizzle-orm/mysql2/migrator";
import mysql from "mysql2/promise";
import { GENESIS } from "#core/ledger/chain.ts";
import { type Database, errorNumber } from "./client.ts";
import { ledgerTail } from "./schema/index.ts";

const FOLDER = path.resolve("server/db/migrations");

/** Creates the database a URL names when the server has none of that name yet. */
export async function createDatabase(url: string): Promise<void> {
  const target = new URL(url);
  const name = target.pathname.slice(1);
  if (!/^[A-Za-z0-9_]+$/.test(name)) throw new Error(`"${name}" is no name for a database`);
  target.pathname = "/";
  const connection = await mysql.createConnection(target.href);
  await connection.query(`CREATE DATABASE IF NOT EXISTS ${name} CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_520_ci`);
  await connection.end();
}

const NO_SUCH_TABLE = 1146;

/**
 * Brings the tables up to date and lays down the ledger's first hash.
 *
 * @throws Error where a newer version was here already
 */
export async function migrateDatabase(db: Database): Promise<void> {
  const ahead = -(await pendingMigrations(db).catch((error) => {
    // Nothing was laid down yet.
    if (errorNumber(error) === NO_SUCH_TABLE) return 0;
    throw error;
  }));
  if (ahead > 0)
    throw new Error(`This database was made by a newer Elenco, ${ahead} changes ahead of this one. Start that one.`);
  await migrate(db, { migrationsFolder: FOLDER });
  await db.insert(ledgerTail).ignore().values({ id: 1, seq: 0, hash: GENESIS });
}

/** How many migrations the database still lacks. @throws when the database does not answer */
export async function pendingMigrations(db: Database): Promise<number> {
  const journal = JSON.parse(readFileSync(path.join(FOLDER, "meta/_journal.json"), "utf8"));
  const [rows] = await db.execute(sql`SELECT COUNT(*) AS done FROM __drizzle_migrations`);
  return journal.entries.length - Number((rows as unknown as { done: number }[])[0]?.done);
}
