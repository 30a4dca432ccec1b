import { execFileSync } from "node:child_process";
import { existsSync, mkdtempSync, statfsSync } from "node:fs";
import { freemem, tmpdir } from "node:os";
import path from "node:path";
import { startMariaDb } from "../../scripts/mariadb.ts";

/** What the databases of a run may take, in bytes: one of a hundred tables is made for most tests. */
const ROOM = 12e9;
const MEMORY = "/dev/shm";

/** Where the data of a run lies: in memory where there is room for it, in which files are made several times as fast. */
function place(): string {
  const { bavail, bsize } = existsSync(MEMORY) ? statfsSync(MEMORY) : { bavail: 0, bsize: 0 };
  return Math.min(bavail * bsize, freemem()) > ROOM ? MEMORY : tmpdir();
}

/** Starts one MariaDB for the run, with the world all tests begin in; each test copies it to a database of its own. */
export default async function startDatabase() {
  const folder = mkdtempSync(path.join(place(), "elenco-test-"));
  const server = await startMariaDb(folder, { volatile: true });
  process.env.TEST_MARIADB = server.url;
  Object.assign(globalThis, { testMariaDb: { server, folder } });
  execFileSync(process.execPath, ["--import", "tsx", "tests/support/lay-template.ts", server.url], {
    stdio: ["ignore", "ignore", "inherit"],
    env: { ...process.env, NODE_OPTIONS: "" },
  });
}
