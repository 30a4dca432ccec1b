import mysql from "mysql2/promise";

/** Tue 24 Nov 2026, 10:00 in Rome: a working morning. */
export const MORNING = Date.parse("2026-11-24T09:00Z");

/** The migrated database with the demo's people and workflows that every test's own is a copy of. */
export const TEMPLATE = "template";

interface Table {
  name: string;
  create: string;
  columns: string;
}

let tables: Promise<Table[]> | null = null;

/** Copies the template to a new database: its tables with their keys, and the rows of those that hold any. */
export async function copyTemplate(server: string, name: string): Promise<void> {
  const connection = await mysql.createConnection({ uri: `${server}${TEMPLATE}`, multipleStatements: true });
  tables ??= readTables(connection);
  const statements = (await tables).flatMap(({ name: table, create, columns }) => [
    create,
    ...(columns ? [`INSERT INTO ${table} (${columns}) SELECT ${columns} FROM ${TEMPLATE}.${table}`] : []),
  ]);
  await connection.query(
    `CREATE DATABASE ${name}; USE ${name}; SET foreign_key_checks = 0; ${statements.join("; ")}; SET foreign_key_checks = 1`,
  );
  await connection.end();
}

/** Every table as it was created, with the columns to copy; none where it is empty. Computed columns compute themselves. */
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
