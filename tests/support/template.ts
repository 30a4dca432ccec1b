import path from "node:path";
import mysql from "mysql2/promise";

/** Tue 24 Nov 2026, 10:00 in Rome: a working morning. */
export const MORNING = Date.parse("2026-11-24T09:00Z");

/** The migrated database with the demo's people and workflows that every server test begins with. */
export const TEMPLATE = "template";

/** The database with the whole demo that every end-to-end spec begins with. */
export const DEMO = "demo";

interface Table {
  name: string;
  create: string;
  /** The columns to copy, comma-separated; empty where the table holds no rows. */
  columns: string;
}

const known = new Map<string, Promise<Table[]>>();

/**
 * Copies a database to a new one: its tables with their keys, and the rows of those that hold any.
 *
 * @param server the server's address, which ends with a slash
 * @param name what the copy is called
 */
export const copyDatabase = (server: string, name: string, from = TEMPLATE): Promise<void> =>
  rewrite(server, from, (tables) => [
    `CREATE DATABASE ${name}`,
    `USE ${name}`,
    ...tables.flatMap((table) => [table.create, ...rowsOf(table, from)]),
  ]);

/** Gives a copy of the template the template's rows again, and no others. */
export const resetDatabase = (server: string, name: string): Promise<void> =>
  rewrite(server, TEMPLATE, (tables) => [
    `USE ${name}`,
    "START TRANSACTION",
    ...tables.map((table) => `DELETE FROM ${table.name}`),
    ...tables.flatMap((table) => rowsOf(table, TEMPLATE)),
    "COMMIT",
  ]);

const rowsOf = ({ name, columns }: Table, from: string) =>
  columns ? [`INSERT INTO ${name} (${columns}) SELECT ${columns} FROM ${from}.${name}`] : [];

async function rewrite(server: string, from: string, statements: (tables: Table[]) => string[]): Promise<void> {
  const connection = await mysql.createConnection({ uri: `${server}${from}`, multipleStatements: true });
  try {
    const tables = known.get(from) ?? readTables(connection);
    known.set(from, tables);
    await connection.query(["SET foreign_key_checks = 0, unique_checks = 0", ...statements(await tables)].join("; "));
  } finally {
    await connection.end();
  }
}

/** Every table as it was created, with the columns to copy. Computed columns compute themselves. */
async function readTables(connection: mysql.Connection): Promise<Table[]> {
  const [found] = await connection.query<mysql.RowDataPacket[]>(
    `SELECT table_name AS name, GROUP_CONCAT(IF(extra LIKE '%GENERATED%', NULL, CONCAT('\`', column_name, '\`'))) AS columns
       FROM information_schema.columns WHERE table_schema = DATABASE() GROUP BY table_name`,
  );
  return Promise.all(
    found.map(async ({ name, columns }) => {
      const [[created]] = await connection.query<mysql.RowDataPacket[]>(`SHOW CREATE TABLE ${name}`);
      const [rows] = await connection.query<mysql.RowDataPacket[]>(`SELECT 1 FROM ${name} LIMIT 1`);
      return { name, create: String(created?.["Create Table"]), columns: rows.length > 0 ? columns : "" };
    }),
  );
}

/** Notes when the demo was laid, on the machine's clock in epoch milliseconds. */
export const laidAtFile = (folder: string) => path.join(folder, "laid-at");
