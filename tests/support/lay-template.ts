import { tmpdir } from "node:os";
import { seedDemo } from "#demo/seed.ts";
import { connect, disconnect } from "#server/db/client.ts";
import { createDatabase, migrateDatabase } from "#server/db/migrate.ts";
import { MORNING, TEMPLATE } from "./template.ts";

/** Lays down the world that tests begin in, on the server given; a program of its own, since Jest sets up before modules work. */
const url = `${process.argv[2]}${TEMPLATE}`;
await createDatabase(url);
const db = connect(url);
await migrateDatabase(db);
const start = new Date(MORNING).toISOString();
await seedDemo(db, { baseUrl: "http://elenco.test", files: tmpdir(), start, bare: true });
await disconnect(db);
