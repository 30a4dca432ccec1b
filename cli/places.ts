import { existsSync, readFileSync } from "node:fs";
import path from "node:path";
import type { Places } from "#server/backup/backup.ts";
import { isDatabaseGone } from "#server/db/client.ts";
import { filesFolder } from "#server/files/store.ts";
import { Unusable } from "./input.ts";

/**
 * The database named by `DATABASE_URL`, or else the demo that runs beside; and the folder of files.
 *
 * @throws Unusable where there is neither
 */
export function places(): Places {
  const folder = process.env.ELENCO_DATA_DIR || ".data";
  const files = filesFolder(folder);
  if (process.env.DATABASE_URL) return { url: process.env.DATABASE_URL, files };
  const port = path.join(folder, "mariadb.port");
  if (!existsSync(port)) throw new Unusable("DATABASE_URL: expected a database's address; no demo has run here either");
  return { url: `mysql://root@127.0.0.1:${readFileSync(port, "utf8")}/elenco`, files };
}

/** Runs what needs the database. @throws Unusable where it does not answer */
export async function withDatabase<T>(work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if (isDatabaseGone(error)) throw new Unusable("The database does not answer.");
    throw error;
  }
}
