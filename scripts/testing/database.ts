import { existsSync, mkdtempSync, rmSync, statfsSync } from "node:fs";
import { freemem, tmpdir } from "node:os";
import path from "node:path";
import { startMariaDb } from "../mariadb.ts";

/** How much room the databases of a run need, in bytes. */
const ROOM = 2e9;
const MEMORY = "/dev/shm";

/** The database server of one run, with its data in a folder of its own. */
export interface RunDatabase {
  /** Ends with a slash. */
  url: string;
  folder: string;
  stop(): Promise<void>;
}

/**
 * Starts the one database server of a run: in memory where there is room, on disk otherwise, which it says.
 *
 * @param onFolder told where its data is, before it starts
 */
export async function startRunDatabase(onFolder: (folder: string) => void): Promise<RunDatabase> {
  const folder = mkdtempSync(path.join(place(), "elenco-test-"));
  onFolder(folder);
  try {
    const server = await startMariaDb(folder, { volatile: true });
    const stop = async () => {
      await server.stop();
      rmSync(folder, { recursive: true, force: true });
    };
    return { url: server.url, folder, stop };
  } catch (error) {
    rmSync(folder, { recursive: true, force: true });
    throw error;
  }
}

function place(): string {
  const { bavail, bsize } = existsSync(MEMORY) ? statfsSync(MEMORY) : { bavail: 0, bsize: 0 };
  const free = Math.min(bavail * bsize, freemem());
  if (free > ROOM) return MEMORY;
  const megabytes = Math.floor(free / 1e6);
  console.log(
    `The databases are kept on disk, which is slower: ${MEMORY} has ${megabytes} MB, and ${ROOM / 1e6} are needed.`,
  );
  return tmpdir();
}
