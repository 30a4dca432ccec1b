import { writeFileSync } from "node:fs";
import path from "node:path";
import { v7 } from "uuid";
import { seedDemo } from "#demo/seed.ts";
import { connect, disconnect } from "#server/db/client.ts";
import { createDatabase, migrateDatabase } from "#server/db/migrate.ts";
import { filesFolder } from "#server/files/store.ts";
import { createLog } from "#server/http/log.ts";
import type { Worker } from "#server/jobs/job.ts";
import { doDue } from "#server/jobs/loop.ts";
import { standInClock } from "#server/standins/clock.ts";
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
if (!bare) await indexAndThin();
await disconnect(db);
if (!bare) writeFileSync(laidAtFile(folder), String(Date.now()));

/** Does what the texts of the demo leave to the jobs, once here and not in every copy. */
async function indexAndThin(): Promise<void> {
  const worker: Worker = {
    db,
    node: v7(),
    now: standInClock(db),
    baseUrl: "http://elenco.test",
    files,
    smtpUrl: null,
    standIns: true,
    log: createLog("error"),
  };
  for (const kind of ["search", "thinning"] as const) while ((await doDue(worker, kind)) > 0);
}
