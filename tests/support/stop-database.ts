import { rmSync } from "node:fs";
import type { LocalMariaDb } from "../../scripts/mariadb.ts";

/** Ends the MariaDB that `start-database` started, and takes its data away. */
export default async function stopDatabase() {
  const { server, folder } = (globalThis as unknown as { testMariaDb: { server: LocalMariaDb; folder: string } })
    .testMariaDb;
  await server.stop();
  rmSync(folder, { recursive: true, force: true });
}
