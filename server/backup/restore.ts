import { readdir } from "node:fs/promises";
import { sql } from "drizzle-orm";
import { connect, disconnect } from "../db/client.ts";
import { createDatabase } from "../db/migrate.ts";
import { keepFile } from "../files/store.ts";
import { inFolder } from "../files/verify.ts";
import { readArchive, tryArchive } from "./archive.ts";
import { type Held, lookAt, type Places } from "./backup.ts";
import { load } from "./database.ts";

/** A place that is not empty: nothing is written over what somebody has. */
export class NotEmpty extends Error {}

/**
 * Reads an archive into an empty place, and looks at everything that is there afterwards.
 *
 * @returns what is there, and when the archive was begun, ISO 8601
 * @throws NotEmpty, ClientProblem, BadArchive, or what the disk says
 */
export async function restore(archive: string, { url, files }: Places): Promise<Held & { at: string }> {
  await createDatabase(url);
  await refuseFull({ url, files });
  await tryArchive(archive);
  const { at } = await readArchive(archive, {
    database: (statements) => load(url, statements),
    file: (_, bytes) => keepFile(files, bytes),
  });
  return { at, ...(await lookAt(url, inFolder(files))) };
}

async function refuseFull({ url, files }: Places): Promise<void> {
  const db = connect(url);
  const [tables] = (await db.execute(sql`SHOW TABLES`)) as unknown as [unknown[]];
  await disconnect(db);
  if (tables.length > 0) throw new NotEmpty("There is something in the database already; restore into an empty one.");
  const lying = await readdir(files).catch(() => []);
  if (lying.length > 0) throw new NotEmpty(`There are files in ${files} already; restore into an empty folder.`);
}
