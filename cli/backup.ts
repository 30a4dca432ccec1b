import { existsSync } from "node:fs";
import { parseArgs } from "node:util";
import { BadArchive } from "#server/backup/archive.ts";
import { backUp } from "#server/backup/backup.ts";
import { ClientProblem } from "#server/backup/database.ts";
import { NotEmpty, restore } from "#server/backup/restore.ts";
import { Unusable } from "./input.ts";
import { places, withDatabase } from "./places.ts";
import { tell } from "./verify.ts";

/** `elenco backup`: everything in one archive, looked at before it counts. */
export async function backupCommand(rest: string[]): Promise<number> {
  const { file, json } = asked("backup", rest);
  if (existsSync(file)) throw new Unusable(`${file}: is there already; name another`);
  const held = await usable(file, () => backUp(places(), file));
  if (held.broken !== null) console.error(`${file} was not written: what would be in it is not sound.`);
  return tell(held, json);
}

/** `elenco restore`: an archive into an empty database and an empty folder. */
export async function restoreCommand(rest: string[]): Promise<number> {
  const { file, json } = asked("restore", rest);
  const { at, ...held } = await usable(file, () => restore(file, places()));
  if (!json) console.log(`Restored as it stood at ${at}.`);
  return tell(held, json, { at });
}

function asked(command: string, rest: string[]) {
  const options = { json: { type: "boolean", default: false } } as const;
  const { values, positionals } = parseArgs({ args: rest, options, allowPositionals: true });
  const [file, ...more] = positionals;
  if (!file || more.length > 0) throw new Unusable(`${command}: expected one file`);
  return { file, json: values.json };
}

async function usable<T>(file: string, work: () => Promise<T>): Promise<T> {
  try {
    return await withDatabase(work);
  } catch (error) {
    const { message, code, path } = error as NodeJS.ErrnoException;
    if (error instanceof BadArchive || (code && path)) throw new Unusable(`${file}: ${message}`);
    if (error instanceof ClientProblem || error instanceof NotEmpty) throw new Unusable(message);
    throw error;
  }
}
