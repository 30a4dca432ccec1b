import { cpSync } from "node:fs";
import path from "node:path";
import { seedDemo } from "#demo/seed.ts";
import { connect, disconnect } from "#server/db/client.ts";
import { createDatabase, migrateDatabase } from "#server/db/migrate.ts";
import { filesFolder } from "#server/files/store.ts";
import { startMariaDb } from "../../scripts/mariadb.ts";

/** Lays the demo down once for all halves of the browser's tests, in a folder of its own for each; a program of its own. */
const [start, ...folders] = process.argv.slice(2) as [string, string, ...string[]];
const [first, ...others] = folders as [string, ...string[]];
const maria = await startMariaDb(first, { volatile: true });
const url = `${maria.url}elenco`;
await createDatabase(url);
const db = connect(url);
await migrateDatabase(db);
await seedDemo(db, { baseUrl: "http://elenco.test", files: filesFolder(first), start });
await disconnect(db);
await maria.stop();
for (const other of others) cpSync(path.resolve(first), path.resolve(other), { recursive: true });
