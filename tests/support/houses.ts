import { randomBytes } from "node:crypto";
import { cpSync, readFileSync } from "node:fs";
import { createServer } from "node:http";
import path from "node:path";
import { sql } from "drizzle-orm";
import mysql from "mysql2/promise";
import { connect, disconnect } from "#server/db/client.ts";
import { clock } from "#server/db/schema/index.ts";
import { readConfig } from "#server/http/config.ts";
import { type Node, serve, stopSoon } from "#server/http/serve.ts";
import { freePort } from "../../scripts/mariadb.ts";
import { copyDatabase, DEMO, laidAtFile } from "./template.ts";

/**
 * Serves every end-to-end spec a publication of its own: a copy of the demo as it was when it was laid, its
 * clock at the same morning. One process serves them all; who asks for another lets the last one go.
 */
const [server, folder] = process.argv.slice(2) as [string, string];
const laidAt = Number(readFileSync(laidAtFile(folder), "utf8"));

/** Where one publication is served. */
export interface House {
  /** The address of its node. */
  url: string;
  database: string;
  /** The folder of its data. */
  data: string;
}

interface Open {
  file: string;
  house: House;
  node: Node;
}
/** What each worker of the run has open. */
const open = new Map<string, Promise<Open>>();

async function openHouse(file: string): Promise<Open> {
  const name = `house_${randomBytes(6).toString("hex")}`;
  const database = `${server}${name}`;
  const data = path.join(folder, name);
  await copyDatabase(server, name, DEMO);
  const db = connect(database);
  await db.update(clock).set({ ahead: sql`${clock.ahead} - ${Date.now() - laidAt}` });
  await disconnect(db);
  cpSync(path.join(folder, DEMO), data, { recursive: true });
  const config = readConfig({
    ...process.env,
    PORT: String(await freePort()),
    DATABASE_URL: database,
    ELENCO_STANDINS: "true",
    MAIL_IN_PORT: "0",
    ELENCO_DATA_DIR: data,
  });
  return { file, house: { url: config.baseUrl, database, data }, node: await serve(config) };
}

async function closeHouse({ node, house }: Open): Promise<void> {
  await stopSoon(node);
  const connection = await mysql.createConnection(server);
  await connection.query(`DROP DATABASE ${new URL(house.database).pathname.slice(1)}`);
  await connection.end();
}

async function houseFor(worker: string, file: string): Promise<House> {
  const before = await open.get(worker);
  if (before?.file === file) return before.house;
  if (before) await closeHouse(before);
  const opening = openHouse(file);
  open.set(worker, opening);
  return (await opening).house;
}

const control = createServer(async ({ url }, response) => {
  const { searchParams } = new URL(url ?? "", "http://127.0.0.1");
  try {
    const house = await houseFor(searchParams.get("worker") ?? "", searchParams.get("file") ?? "");
    response.end(JSON.stringify(house));
  } catch (error) {
    response.writeHead(500).end(String(error));
  }
});
control.listen(0, "127.0.0.1", () => {
  const address = control.address();
  console.log(`http://127.0.0.1:${typeof address === "object" && address?.port}`);
});
process.on("SIGTERM", async () => {
  for (const opening of open.values()) await stopSoon((await opening).node);
  process.exit(0);
});
