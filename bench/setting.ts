import { type ChildProcess, spawn } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { eq } from "drizzle-orm";
import { seedDemo } from "#demo/seed.ts";
import { connect, type Database } from "#server/db/client.ts";
import { createDatabase, migrateDatabase } from "#server/db/migrate.ts";
import { person } from "#server/db/schema/index.ts";
import { openSession } from "#server/people/sessions.ts";
import { loadViewer, type Viewer } from "#server/viewer.ts";
import type { Act } from "#server/write.ts";
import { buildWhenStale } from "../scripts/build.ts";
import { freePort, startMariaDb } from "../scripts/mariadb.ts";
import { readOptions } from "./options.ts";
import { generate } from "./publication.ts";
import { Report } from "./report.ts";

const SECRET = "bench".repeat(8);

/** The parts of the bench, in the order in which they are measured. */
export const PARTS = [
  "loaders",
  "requests",
  "releases",
  "editions",
  "due",
  "text",
  "writing",
  "remarks",
  "flow",
  "hands",
  "live",
  "many",
  "schedule",
  "readers",
  "rules",
  "intake",
  "check",
  "studio",
  "decisions",
  "changes",
  // Last, since it makes five times as many pieces.
  "visible",
] as const;

export const options = wanted();
const report = new Report({ pieces: options.pieces, entries: options.entries }, options.against);
/** Prints and keeps what was measured. */
export const record = report.record.bind(report);
export const { fail, close } = { fail: report.fail.bind(report), close: report.close.bind(report) };

/** What was asked for on the command line; ends the process with one sentence where it cannot be had. */
function wanted() {
  try {
    return readOptions(process.argv.slice(2), PARTS);
  } catch (error) {
    console.error((error as Error).message);
    process.exit(2);
  }
}

export const folder = mkdtempSync(path.join(tmpdir(), "elenco-bench-"));
process.env.SESSION_SECRET = SECRET;
const maria = await startMariaDb(folder);
const nodes = new Set<ChildProcess>();
// However the bench ends, it leaves nothing behind.
process.on("exit", () => {
  endNodes();
  process.kill(maria.pid, "SIGKILL");
  rmSync(folder, { recursive: true, force: true });
});
for (const signal of ["SIGINT", "SIGTERM"] as const) process.on(signal, () => process.exit(1));
export const url = `${maria.url}bench`;
/** What is sent while a pool notes it. */
export const statements: { sql: string; params: unknown[] }[] = [];
await createDatabase(url);
export const db = connect(url);
await migrateDatabase(db);
export const now = Date.now();
await seedDemo(db, { baseUrl: "http://bench", files: folder, bare: true });
console.error(`Laying out ${options.pieces} pieces and ${options.entries} ledger entries …`);
await generate(db, now, options.pieces, options.entries);

/** Ends the nodes a part has started. */
export function endNodes(): void {
  for (const node of nodes) node.kill("SIGTERM");
  nodes.clear();
}

/** A pool that notes each statement with its values. */
export async function counting(): Promise<Database> {
  const noting = connect(url);
  const pool = noting.$client;
  const query = pool.query.bind(pool);
  pool.query = ((...given: unknown[]) => {
    const [options, params] = given as [{ sql: string } | string, unknown[]];
    statements.push({
      sql: typeof options === "string" ? options : options.sql,
      params: Array.isArray(params) ? params : [],
    });
    return (query as (...all: unknown[]) => unknown)(...given);
  }) as typeof pool.query;
  return noting;
}

/** A session of somebody, as a browser keeps it. */
export async function cookieOf(key: string, baseUrl: string): Promise<string> {
  const act = {
    db,
    personId: null,
    now: Date.now(),
    origin: "bench",
    requestId: "bench",
    baseUrl,
    files: folder,
    proven: true,
  };
  const opened = await openSession(act, await idOf(key), { address: "bench", agent: "bench" });
  return `elenco=${opened.ok ? opened.value : ""}`;
}

/** Starts a node, which ends with the part that asked for it. @returns its address */
export async function startNode(): Promise<string> {
  const port = await freePort();
  buildWhenStale();
  const env = {
    ...process.env,
    NODE_ENV: "production",
    DATABASE_URL: url,
    SESSION_SECRET: SECRET,
    PORT: String(port),
    LOG_LEVEL: "error",
  };
  const node = spawn(process.execPath, ["build/server/node.js"], {
    env,
    stdio: ["ignore", "pipe", "inherit"],
  });
  nodes.add(node);
  for await (const line of node.stdout ?? []) if (String(line).includes("ready")) break;
  node.stdout?.resume();
  return `http://127.0.0.1:${port}`;
}

export async function asIlda(): Promise<Act> {
  return actAs(await idOf("ilda"));
}

/** What a command is given, in somebody's name or in that of a job. */
export function actAs(personId: string | null): Act {
  return {
    db,
    personId,
    now,
    origin: "bench",
    requestId: "bench",
    baseUrl: "http://bench",
    files: folder,
    proven: true,
  };
}

export async function viewer(on: Database, key: string): Promise<Viewer> {
  const found = await loadViewer(on, await idOf(key), Date.now());
  if (!found) throw new Error(`the bench has no ${key}`);
  return found;
}

export async function idOf(key: string): Promise<string> {
  const [row] = await db.select({ id: person.id }).from(person).where(eq(person.key, key));
  return row?.id ?? "";
}
