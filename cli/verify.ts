import { existsSync, readFileSync } from "node:fs";
import path from "node:path";
import { parseArgs } from "node:util";
import { connect, disconnect, isDatabaseGone } from "#server/db/client.ts";
import { verifyLedger } from "#server/ledger/verify.ts";
import { Unusable } from "./input.ts";

/** `elenco verify`: follows the ledger's chain and computes every version's hash anew. */
export async function verifyCommand(rest: string[]): Promise<number> {
  const { values } = parseArgs({ args: rest, options: { json: { type: "boolean", default: false } } });
  const db = connect(databaseUrl());
  try {
    const found = await verifyLedger(db);
    const sound = `The ledger is sound: ${found.entries} entries and ${found.versions} versions agree with their hashes.`;
    if (values.json) console.log(JSON.stringify({ sound: found.broken === null, ...found }));
    else console.log(found.broken === null ? sound : `The ledger is broken: ${found.broken}.`);
    return found.broken === null ? 0 : 1;
  } catch (error) {
    if (isDatabaseGone(error)) throw new Unusable("The database does not answer.");
    throw error;
  } finally {
    await disconnect(db);
  }
}

/** The database named by `DATABASE_URL`, or else the demo that runs beside. */
function databaseUrl(): string {
  if (process.env.DATABASE_URL) return process.env.DATABASE_URL;
  const port = path.join(process.env.ELENCO_DATA_DIR || ".data", "mariadb.port");
  if (!existsSync(port)) throw new Unusable("DATABASE_URL: expected a database's address; no demo has run here either");
  return `mysql://root@127.0.0.1:${readFileSync(port, "utf8")}/elenco`;
}
