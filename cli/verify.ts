import { parseArgs } from "node:util";
import { type Held, lookAt } from "#server/backup/backup.ts";
import { inFolder } from "#server/files/verify.ts";
import { places, withDatabase } from "./places.ts";

/** `elenco verify`: follows the ledger's chain, computes every version's hash anew, and reads every file. */
export async function verifyCommand(rest: string[]): Promise<number> {
  const { values } = parseArgs({ args: rest, options: { json: { type: "boolean", default: false } } });
  const { url, files } = places();
  return tell(await withDatabase(() => lookAt(url, inFolder(files))), values.json);
}

/** Says what was found. @returns the exit code */
export function tell(held: Held, json: boolean, more: Record<string, string> = {}): number {
  const sound = held.broken === null;
  if (json) console.log(JSON.stringify({ sound, ...more, ...held }));
  else if (sound)
    console.log(
      `All is sound: ${held.entries} entries of the ledger, ${held.versions} versions and ${held.files} files agree with their hashes.`,
    );
  else console.log(`It is broken: ${held.broken}.`);
  return sound ? 0 : 1;
}
