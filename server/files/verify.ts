import { asc, gt } from "drizzle-orm";
import type { Queryable } from "../db/client.ts";
import { file } from "../db/schema/index.ts";
import { stateOfFile } from "./store.ts";

const BATCH = 1_000;

/** What looking at every file found. */
export interface FilesFound {
  files: number;
  /** The first that is not as it was brought, in a sentence; null where all are. */
  broken: string | null;
}

/**
 * Looks whether every file the database names is as it was brought.
 *
 * @param stateOf how one of them stands; where it lies is the caller's
 */
export async function verifyFiles(
  db: Queryable,
  stateOf: (row: { id: string; bytes: number }) => Promise<"whole" | "missing" | "damaged">,
): Promise<FilesFound> {
  let files = 0;
  for await (const row of namedFiles(db)) {
    const state = await stateOf(row);
    if (state !== "whole") return { files, broken: `file ${row.id} is ${state}` };
    files += 1;
  }
  return { files, broken: null };
}

/** Every byte of a file in a folder, for {@link verifyFiles}. */
export const inFolder = (folder: string) => (row: { id: string; bytes: number }) => stateOfFile(folder, row, true);

/** The files the database names, in the order of their ids. */
export async function* namedFiles(db: Queryable): AsyncGenerator<{ id: string; bytes: number }> {
  for (let last = ""; ; ) {
    const rows = await db
      .select({ id: file.id, bytes: file.bytes })
      .from(file)
      .where(gt(file.id, last))
      .orderBy(asc(file.id))
      .limit(BATCH);
    yield* rows;
    if (rows.length < BATCH) return;
    last = rows.at(-1)?.id ?? "";
  }
}
