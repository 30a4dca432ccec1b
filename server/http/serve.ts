import { once } from "node:events";
import { createServer } from "node:http";
import path from "node:path";
import { pathToFileURL } from "node:url";
import pino from "pino";
import type { ServerBuild } from "react-router";
import { v7 } from "uuid";
import { connect, disconnect } from "../db/client.ts";
import { migrateDatabase } from "../db/migrate.ts";
import { startJobs } from "../jobs/loop.ts";
import { ensurePublication, firstSecret, isFirstStart } from "../people/first.ts";
import { machineClock, standInClock } from "../standins/clock.ts";
import { startPost } from "../standins/post.ts";
import { createApp } from "./app.ts";
import type { Config } from "./config.ts";
import { startLive } from "./live.ts";

/** One running node. */
export interface Node {
  stop(): Promise<void>;
}

/**
 * Starts one node: the web server and the jobs. Any number may run on one database.
 *
 * @throws when the database does not answer or the port is taken
 */
export async function serve(config: Config): Promise<Node> {
  const log = pino({ level: config.LOG_LEVEL, redact: ["req.headers.cookie"] });
  const db = connect(config.DATABASE_URL);
  await migrateDatabase(db);
  await ensurePublication(db);
  if (await isFirstStart(db))
    console.log(`Nobody is here yet. Set the publication up at ${config.baseUrl}/first/${firstSecret()}`);
  const now = config.ELENCO_STANDINS ? standInClock(db) : machineClock;
  const post = config.ELENCO_STANDINS && !config.SMTP_URL ? await startPost(db, now) : null;
  const files = filesFolder(config.ELENCO_DATA_DIR);
  const clientFolder = path.resolve("build/client");
  const build = (await import(pathToFileURL(path.resolve("build/server/index.js")).href)) as ServerBuild;
  const live = startLive(db, log);
  const app = createApp({
    db,
    build,
    clientFolder,
    baseUrl: config.baseUrl,
    files,
    standIns: config.ELENCO_STANDINS,
    now,
    live,
    log,
  });
  const server = createServer(app);
  server.listen(config.PORT, config.HOST);
  await once(server, "listening");
  const stopJobs = startJobs({
    db,
    node: v7(),
    now,
    baseUrl: config.baseUrl,
    files,
    smtpUrl: config.SMTP_URL ?? post?.url ?? null,
    log,
  });
  return {
    async stop() {
      live.stop();
      server.close();
      server.closeIdleConnections();
      await stopJobs();
      await post?.stop();
      server.closeAllConnections();
      await disconnect(db);
    },
  };
}

/** The folder in which files are kept, in that of the data. */
export const filesFolder = (dataFolder: string) => path.resolve(dataFolder, "files");

/** Stops a node, and whatever `after` ends, when the process is asked to end. */
export function stopOnSignal(node: Node, after: () => Promise<void> = async () => undefined): void {
  let stopping = false;
  for (const signal of ["SIGINT", "SIGTERM"] as const) {
    process.on(signal, async () => {
      if (stopping) return;
      stopping = true;
      await node.stop();
      await after();
      process.exit(0);
    });
  }
}
