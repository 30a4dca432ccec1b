import { execFileSync } from "node:child_process";
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { startMariaDb } from "../../scripts/mariadb.ts";

/** Starts one MariaDB for the run, with the world all tests begin in; each test copies it to a database of its own. */
export default async function startDatabase() {
  const server = await startMariaDb(mkdtempSync(path.join(tmpdir(), "elenco-test-")), { volatile: true });
  process.env.TEST_MARIADB = server.url;
  Object.assign(globalThis, { testMariaDb: server });
  execFileSync(process.execPath, ["--import", "tsx", "tests/support/lay-template.ts", server.url], {
    stdio: ["ignore", "ignore", "inherit"],
    env: { ...process.env, NODE_OPTIONS: "" },
  });
}
