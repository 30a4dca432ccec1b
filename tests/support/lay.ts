import { writeFileSync } from "node:fs";
import path from "node:path";
import { seedDemo } from "#demo/seed.ts";
import { connect, disconnect } from "#server/db/client.ts";
import { createDatabase, migrateDatabase } from "#server/db/migrate.ts";
import { filesFolder } from "#server/files/store.ts";
import { DEMO, laidAtFile, MORNING, TEMPLATE } from "./template.ts";

/** Lays down what tests begin with, on the database server of the run: `template`, or the whole `demo`. */
const [what, server, folder] = process.argv.slice(2) as [string, string, string];
const bare = what === TEMPLATE;
const url = `${server}${bare ? TEMPLATE : DEMO}`;
await createDatabase(url);
const db = connect(url);
await migrateDatabase(db);
const start = new Date(MORNING).toISOString();
const files = filesFolder(path.join(folder, DEMO));
await seedDemo(db, { baseUrl: "http://elenco.test", files, start, bare });
await disconnect(db);
if (!bare) writeFileSync(laidAtFile(folder), String(Date.now()));
