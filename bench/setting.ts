import { type ChildProcess, spawn } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { eq } from "drizzle-orm";
import { seedDemo } from "#demo/seed.ts";
import { connect, type Database, disconnect } from "#server/db/client.ts";
import { createDatabase, migrateDatabase } from "#server/db/migrate.ts";
import { person } from "#server/db/schema/index.ts";
import { openSession } from "#server/people/sessions.ts";
import { loadViewer, type Viewer } from "#server/viewer.ts";
import type { Act } from "#server/write.ts";
import { buildWhenStale } from "../scripts/build.ts";
import { startMariaDb } from "../scripts/mariadb.ts";
import type { Row } from "./measure.ts";
import { generate } from "./publication.ts";

export const PIECES = 20_000;
export const ENTRIES = 200_000;
const SECRET = "bench".repeat(8);

/** The table that is printed at the end. */
export const rows: Row[] = [];
export const folder = mkdtempSync(path.join(tmpdir(), "elenco-bench-"));
process.env.SESSION_SECRET = SECRET;
const maria = await startMariaDb(folder);
export const url = `${maria.url}bench`;
/** What is sent while a pool notes it. */
export const statements: { sql: string; params: unknown[] }[] = [];
await createDatabase(url);
export const db = connect(url);
await migrateDatabase(db);
export const now = Date.now();
await seedDemo(db, { baseUrl: "http://bench", files: folder, bare: true });
console.error(`Laying out ${PIECES} pieces and ${ENTRIES} ledger entries …`);
await generate(db, now, PIECES, ENTRIES);

/** Leaves nothing behind. */
export async function leave(): Promise<void> {
  await disconnect(db);
  await maria.stop();
  rmSync(folder, { recursive: true, force: true });
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

export async function startNode(port: number): Promise<ChildProcess> {
  buildWhenStale();
  const env = {
    ...process.env,
    NODE_ENV: "production",
    DATABASE_URL: url,
    SESSION_SECRET: SECRET,
    PORT: String(port),
    LOG_LEVEL: "error",
  };
  const node = spawn(process.execPath, ["--import", "tsx", "scripts/start.ts"], {
    env,
    stdio: ["ignore", "pipe", "inherit"],
  });
  for await (const line of node.stdout ?? []) if (String(line).includes("ready")) break;
  node.stdout?.resume();
  return node;
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
