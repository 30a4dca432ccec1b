import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { startMariaDb } from "../../scripts/mariadb.ts";

/** Starts one MariaDB for the run; each worker makes a database of its own on it. */
export default async function startDatabase() {
  const server = await startMariaDb(mkdtempSync(path.join(tmpdir(), "elenco-test-")), { volatile: true });
  process.env.TEST_MARIADB = server.url;
  Object.assign(globalThis, { testMariaDb: server });
}
