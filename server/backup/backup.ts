import { randomBytes } from "node:crypto";
import { createWriteStream } from "node:fs";
import { open, rename, rm } from "node:fs/promises";
import { sql } from "drizzle-orm";
import { connect, type Database, disconnect } from "../db/client.ts";
import { createDatabase } from "../db/migrate.ts";
import { idOf, readKept } from "../files/store.ts";
import { namedFiles, verifyFiles } from "../files/verify.ts";
import { verifyLedger } from "../ledger/verify.ts";
import { readArchive, writeArchive } from "./archive.ts";
import { dump, load } from "./database.ts";

/** Where everything of an installation lies. */
export interface Places {
  /** The database's address. */
  url: string;
  /** The folder of files. */
  files: string;
}

/** What an archive or a restored installation holds, once it was looked at. */
export interface Held {
  entries: number;
  versions: number;
  files: number;
  /** The first thing that is wrong, in a sentence; null when all is sound. */
  broken: string | null;
}

/**
 * Writes everything an installation holds into one archive, while people work: the database as it stands
 * at one instant, and the files it names. Then the archive is read back into a database of its own on
 * the same server, and looked at; it has its name only where it is sound.
 *
 * @throws ClientProblem, BadArchive, or what the disk says
 */
export async function backUp({ url, files }: Places, to: string): Promise<Held> {
  const [begun, dumped] = [`${to}.part`, `${to}.sql.part`];
  const db = connect(url);
  try {
    const at = Date.now();
    await dump(url, createWriteStream(dumped, { flags: "wx", mode: 0o600 }));
    await writeArchive(begun, at, dumped, bytesOf(db, files));
    const held = await inDatabaseOfItsOwn(url, (scratch) => look(begun, scratch));
    if (held.broken === null) await finish(begun, to);
    return held;
  } finally {
    await disconnect(db);
    for (const left of [begun, dumped]) await rm(left, { force: true });
  }
}

/** Files there are; one that is missing is told when the archive is looked at, since the database names it. */
async function* bytesOf(db: Database, folder: string) {
  for await (const { id } of namedFiles(db)) {
    const bytes = await readKept(folder, id);
    if (bytes) yield { id, bytes };
  }
}

async function look(archive: string, scratch: string): Promise<Held> {
  const whole = new Map<string, number>();
  await readArchive(archive, {
    database: (sql) => load(scratch, sql),
    file: async (id, bytes) => void (idOf(bytes) === id && whole.set(id, bytes.length)),
  });
  const stateOf = async ({ id, bytes }: { id: string; bytes: number }) =>
    whole.get(id) === bytes ? ("whole" as const) : ("missing" as const);
  return lookAt(scratch, stateOf);
}

/** Follows the ledger, computes every version's hash, and looks at every file the database names. */
export async function lookAt(url: string, stateOf: Parameters<typeof verifyFiles>[1]): Promise<Held> {
  const db = connect(url);
  try {
    const ledger = await verifyLedger(db);
    const found = await verifyFiles(db, stateOf);
    return { ...ledger, files: found.files, broken: ledger.broken ?? found.broken };
  } finally {
    await disconnect(db);
  }
}

async function inDatabaseOfItsOwn<T>(url: string, work: (scratch: string) => Promise<T>): Promise<T> {
  const scratch = new URL(url);
  scratch.pathname += `_check_${randomBytes(4).toString("hex")}`;
  await createDatabase(scratch.href);
  try {
    return await work(scratch.href);
  } finally {
    const db = connect(url);
    await db.execute(sql`DROP DATABASE ${sql.identifier(scratch.pathname.slice(1))}`);
    await disconnect(db);
  }
}

/** Gives what was written its name, once it is on the disk. */
async function finish(begun: string, to: string): Promise<void> {
  const file = await open(begun, "r");
  await file.sync();
  await file.close();
  await rename(begun, to);
}
