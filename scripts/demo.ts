import { randomBytes } from "node:crypto";
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import path from "node:path";
import { seedDemo } from "#demo/seed.ts";
import { connect, disconnect } from "#server/db/client.ts";
import { createDatabase, migrateDatabase } from "#server/db/migrate.ts";
import { filesFolder } from "#server/files/store.ts";
import { readConfig } from "#server/http/config.ts";
import { type Node, serve, stopSoon } from "#server/http/serve.ts";
import { buildWhenStale } from "./build.ts";
import { type LocalMariaDb, startMariaDb } from "./mariadb.ts";
import { forgetRunning, noteRunning, runningOn } from "./running.ts";

const folder = process.env.ELENCO_DATA_DIR || ".data";
const unknown = process.argv.slice(2).filter((option) => option !== "--fresh");
if (unknown.length > 0) {
  console.error(`The demo does not know ${unknown.join(" ")}; it knows --fresh.`);
  process.exit(2);
}

const running = runningOn(folder);
if (running) {
  console.error(`The demo on ${folder} runs already: ${running.url} (process ${running.pid}).`);
  console.error("Stop that one first, or give this one a folder of its own with ELENCO_DATA_DIR.");
  process.exit(1);
}

let maria: LocalMariaDb | undefined;
let node: Node | undefined;
let ending = false;
const end = async (code: number) => {
  if (ending) return;
  ending = true;
  if (node) await stopSoon(node);
  await maria?.stop();
  forgetRunning(folder);
  process.exit(code);
};
for (const signal of ["SIGINT", "SIGTERM"] as const) process.on(signal, () => void end(0));

try {
  if (process.argv.includes("--fresh")) await forget();
  noteRunning(folder, "it is starting");
  maria = await startMariaDb(folder);
  Object.assign(process.env, {
    DATABASE_URL: `${maria.url}elenco`,
    SESSION_SECRET: secret(),
    ELENCO_STANDINS: "true",
    MAIL_IN_PORT: process.env.MAIL_IN_PORT || "0",
    LOG_LEVEL: process.env.LOG_LEVEL || "warn",
  });
  const config = readConfig();
  noteRunning(folder, config.baseUrl);
  await createDatabase(config.DATABASE_URL);
  const db = connect(config.DATABASE_URL);
  await migrateDatabase(db);
  await seedDemo(db, {
    baseUrl: config.baseUrl,
    files: filesFolder(config.ELENCO_DATA_DIR),
    start: process.env.ELENCO_DEMO_START,
  });
  await disconnect(db);
  buildWhenStale();
  node = await serve(config);
  console.log(`Elenco is ready: ${config.baseUrl}`);
} catch (error) {
  console.error(error instanceof Error ? error.message : error);
  await end(1);
}

/** Ends what an earlier run left and throws its data away; a folder that is not a demo's is left alone. */
async function forget() {
  if (!existsSync(path.join(folder, "mariadb"))) return;
  await (await startMariaDb(folder)).stop();
  rmSync(folder, { recursive: true });
}

/** The demo's session secret, kept so that a second start knows who is signed in. */
function secret(): string {
  const file = path.join(folder, "session-secret");
  mkdirSync(folder, { recursive: true });
  if (!existsSync(file)) writeFileSync(file, randomBytes(32).toString("hex"), { mode: 0o600 });
  return readFileSync(file, "utf8");
}
