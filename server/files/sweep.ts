import { readdir, rm, stat } from "node:fs/promises";
import path from "node:path";
import { and, eq, inArray, notExists } from "drizzle-orm";
import type { Database } from "../db/client.ts";
import { attachment, file, intakeFile } from "../db/schema/index.ts";

/** So long a file lies that nobody names, in milliseconds: whoever is about to name it has the time, and so has whoever mends. */
const KEPT = 7 * 24 * 3_600_000;

/**
 * Takes away files no piece has any more, nor came along with anything, what was made of them for readers, and what a write that
 * broke off left lying. By the machine's clock, since it is the disk's.
 *
 * @param folder where files are kept
 * @returns how many places on the disk were cleared
 */
export async function sweepFiles(db: Database, folder: string, now = Date.now()): Promise<number> {
  let cleared = 0;
  for (const shelf of await readdir(folder).catch(() => [])) {
    const lying = await readdir(path.join(folder, shelf)).catch(() => []);
    const named = await namedAmong(db, [...new Set(lying.map(idIn))]);
    for (const name of lying) {
      const place = path.join(folder, shelf, name);
      const brokenOff = name.endsWith(".part");
      if (named.has(idIn(name)) && !brokenOff) continue;
      const found = await stat(place).catch(() => null);
      if (!found || now - found.mtimeMs < KEPT) continue;
      if (!brokenOff && !(await forget(db, idIn(name)))) continue;
      await rm(place, { force: true });
      cleared += 1;
    }
  }
  return cleared;
}

/** The file a place on the disk belongs to: it, a size of it, or the beginning of one. */
const idIn = (name: string) => name.slice(0, 64);

async function namedAmong(db: Database, ids: string[]): Promise<Set<string>> {
  if (ids.length === 0) return new Set();
  const [pieces, intake] = await Promise.all([
    db.selectDistinct({ id: attachment.fileId }).from(attachment).where(inArray(attachment.fileId, ids)),
    db.selectDistinct({ id: intakeFile.fileId }).from(intakeFile).where(inArray(intakeFile.fileId, ids)),
  ]);
  return new Set([...pieces, ...intake].map((row) => row.id));
}

/** Takes a file's row away, where still nobody names it. @returns whether it is gone */
async function forget(db: Database, id: string): Promise<boolean> {
  const attached = db.select({ id: attachment.fileId }).from(attachment).where(eq(attachment.fileId, file.id));
  const came = db.select({ id: intakeFile.fileId }).from(intakeFile).where(eq(intakeFile.fileId, file.id));
  await db.delete(file).where(and(eq(file.id, id), notExists(attached), notExists(came)));
  return (await db.select({ id: file.id }).from(file).where(eq(file.id, id))).length === 0;
}
