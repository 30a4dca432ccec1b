import { createReadStream, createWriteStream } from "node:fs";
import { stat } from "node:fs/promises";
import { Readable } from "node:stream";
import { buffer } from "node:stream/consumers";
import { finished, pipeline } from "node:stream/promises";
import { createGunzip, createGzip } from "node:zlib";
import { extract, pack } from "tar-stream";
import { z } from "zod";
import { idOf } from "../files/store.ts";
import { ClientProblem } from "./database.ts";

/** The first entry of an archive: what it is, and when it was begun. */
const manifest = z.object({ form: z.literal("elenco.backup/1"), at: z.iso.datetime() });
export type Manifest = z.output<typeof manifest>;

const FILE = /^files\/([0-9a-f]{64})$/;
const FILE_BYTES = 100_000_000;

/** An archive that is none, or was damaged. */
export class BadArchive extends Error {}

/**
 * Writes an archive: a gzipped tar of `manifest.json`, `database.sql` and `files/` by their ids.
 *
 * @param sql where the database's SQL lies
 * @param files the files' bytes by id, one after the other
 */
export async function writeArchive(
  to: string,
  at: number,
  sql: string,
  files: AsyncIterable<{ id: string; bytes: Buffer }>,
): Promise<void> {
  const tar = pack();
  const written = pipeline(tar, createGzip(), createWriteStream(to, { flags: "wx", mode: 0o600 }));
  const fill = async () => {
    const described: Manifest = { form: "elenco.backup/1", at: new Date(at).toISOString() };
    tar.entry({ name: "manifest.json" }, JSON.stringify(described));
    await pipeline(createReadStream(sql), tar.entry({ name: "database.sql", size: (await stat(sql)).size }));
    for await (const { id, bytes } of files)
      await new Promise<void>((resolve, reject) => {
        tar.entry({ name: `files/${id}` }, bytes, (error) => (error ? reject(error) : resolve()));
      });
    tar.finalize();
  };
  await Promise.all([
    written,
    fill().catch((error) => {
      tar.destroy(error);
      throw error;
    }),
  ]);
}

/** What is done with what an archive holds. */
export interface Taken {
  database(sql: Readable): Promise<void>;
  file(id: string, bytes: Buffer): Promise<void>;
}

/** Reads an archive from its beginning to its end. @throws BadArchive */
export async function readArchive(from: string, taken: Taken): Promise<Manifest> {
  let described: Manifest | undefined;
  let database = false;
  const reader = extract();
  const fed = pipeline(createReadStream(from), createGunzip(), reader).catch((error: Error) => error);
  try {
    for await (const entry of reader) {
      const { name, size = 0 } = entry.header;
      const [, id] = FILE.exec(name) ?? [];
      if (name === "manifest.json" && size < 10_000) described = manifestOf(await buffer(entry));
      else if (!described) throw new BadArchive("it does not begin as an archive of Elenco does");
      else if (name === "database.sql" && !database) {
        database = true;
        await taken.database(Readable.from(entry));
      } else if (id && size <= FILE_BYTES) await taken.file(id, await buffer(entry));
      else throw new BadArchive(`it holds ${name}, which no archive does`);
    }
  } catch (error) {
    reader.destroy();
    // What the database and the disk say is said as it is; all else is the archive's.
    const theirs = error instanceof ClientProblem || (error as NodeJS.ErrnoException).path !== undefined;
    throw theirs || error instanceof BadArchive ? error : new BadArchive("it was damaged");
  }
  const problem = await fed;
  if (problem || !described || !database) throw new BadArchive("it is damaged, or not whole");
  return described;
}

/** Reads an archive through without doing anything with it, so that nothing is begun with one that is damaged. @throws BadArchive */
export const tryArchive = (from: string) =>
  readArchive(from, {
    database: (sql) => finished(sql.resume()),
    file: async (id, bytes) => {
      if (idOf(bytes) !== id) throw new BadArchive(`file ${id} is damaged in it`);
    },
  });

function manifestOf(bytes: Buffer): Manifest {
  try {
    return manifest.parse(JSON.parse(bytes.toString("utf8")));
  } catch {
    throw new BadArchive("it is of another form");
  }
}
