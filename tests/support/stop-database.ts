import type { LocalMariaDb } from "../../scripts/mariadb.ts";

/** Ends the MariaDB that `start-database` started. */
export default async function stopDatabase() {
  await (globalThis as unknown as { testMariaDb: LocalMariaDb }).testMariaDb.stop();
}
