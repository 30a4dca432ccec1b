import { type ChildProcess, spawn } from "node:child_process";
import { once } from "node:events";
import { mkdtempSync, writeFileSync } from "node:fs";
import { createServer } from "node:net";
import { tmpdir } from "node:os";
import path from "node:path";
import { text } from "node:stream/consumers";
import { sql } from "drizzle-orm";
import { migrateDatabase } from "#server/db/migrate.ts";
import { freePort, isFree } from "../../scripts/mariadb.ts";
import { NODE, ready, script, startOn } from "../support/node.ts";
import { makeWorld, type World } from "../support/world.ts";

/** How a node is started and ended, and what it says where it cannot start: one clear line. */
let world: World;
beforeAll(async () => {
  world = await makeWorld();
});
afterAll(() => world.close());

const start = (command: [string, ...string[]], environment: Record<string, string>) =>
  startOn(world, command, { ELENCO_DATA_DIR: mkdtempSync(path.join(tmpdir(), "elenco-start-")), ...environment });

async function ended(child: ChildProcess) {
  const [said, [code]] = await Promise.all([
    text(child.stderr as NonNullable<typeof child.stderr>),
    once(child, "exit"),
  ]);
  return { code, said: said.trim() };
}

test("SIGTERM to npm start ends all of it within ten seconds", async () => {
  const port = await freePort();
  const npm = start(["npm", "start"], { PORT: String(port) });
  await ready(npm);
  const asked = Date.now();
  npm.kill("SIGTERM");
  await once(npm, "exit");
  expect(Date.now() - asked).toBeLessThan(10_000);
  expect(await isFree(port)).toBe(true);
});

test("a port that is taken is named, in one line", async () => {
  const other = createServer().listen(0, "127.0.0.1");
  await once(other, "listening");
  const { port } = other.address() as { port: number };
  expect(await ended(start(NODE, { PORT: String(port) }))).toEqual({
    code: 1,
    said: `Port ${port} is taken. Choose another with PORT, or stop what listens there.`,
  });
  other.close();
});

test("a second demo on the same data says where the first one runs, and leaves it alone", async () => {
  const folder = mkdtempSync(path.join(tmpdir(), "elenco-demo-"));
  const first = spawn(process.execPath, ["-e", "setInterval(() => {}, 1000)", "scripts/demo.ts"]);
  writeFileSync(path.join(folder, "demo.json"), JSON.stringify({ pid: first.pid, url: "http://127.0.0.1:4300" }));
  const { code, said } = await ended(start(script("demo"), { ELENCO_DATA_DIR: folder }));
  expect([code, said.split("\n")[0]]).toEqual([
    1,
    `The demo on ${folder} runs already: http://127.0.0.1:4300 (process ${first.pid}).`,
  ]);
  expect(first.exitCode).toBeNull();
  first.kill();
});

test("what is no proxy is not trusted as one", async () => {
  const { code, said } = await ended(start(NODE, { TRUST_PROXY: "10.0.0.0/8, everybody" }));
  expect([code, said]).toEqual([2, expect.stringContaining("TRUST_PROXY is not usable: addresses and networks")]);
});

test("stand-ins are for this machine alone", async () => {
  expect(await ended(start(NODE, { ELENCO_STANDINS: "true", HOST: "0.0.0.0" }))).toEqual({
    code: 2,
    said: "ELENCO_STANDINS is not usable: HOST is not loopback, and with stand-ins anybody may sign in as anybody",
  });
});

test("a database of a newer version is left alone", async () => {
  await world.db.execute(sql`INSERT INTO __drizzle_migrations (hash, created_at) VALUES ('x', 9999999999999)`);
  await expect(migrateDatabase(world.db)).rejects.toThrow("This database was made by a newer Elenco, 1 changes ahead");
});
