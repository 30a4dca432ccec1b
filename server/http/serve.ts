import { once } from "node:events";
import { createServer } from "node:http";
import path from "node:path";
import { setTimeout as pause } from "node:timers/promises";
import { pathToFileURL } from "node:url";
import { sql } from "drizzle-orm";
import type { ServerBuild } from "react-router";
import { v7 } from "uuid";
import { connect, type Database, disconnect } from "../db/client.ts";
import { migrateDatabase } from "../db/migrate.ts";
import { filesFolder } from "../files/store.ts";
import { startMailIn } from "../intake/mail.ts";
import { nextLetter } from "../jobs/letters.ts";
import { startJobs } from "../jobs/loop.ts";
import { ensurePublication, firstSecret, isFirstStart } from "../people/first.ts";
import { loadPlaces } from "../sections/places.ts";
import { machineClock, standInClock } from "../standins/clock.ts";
import { startPost } from "../standins/post.ts";
import { scheduleOnce } from "../tasks/schedule.ts";
import { createApp } from "./app.ts";
import type { Config } from "./config.ts";
import { startLive } from "./live.ts";
import { createLog } from "./log.ts";

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
  const log = createLog(config.LOG_LEVEL);
  const db = connect(config.DATABASE_URL);
  await migrateDatabase(db);
  await refuseStrayClock(db);
  await ensurePublication(db);
  if (await isFirstStart(db))
    console.log(`Nobody is here yet. Set the publication up at ${config.baseUrl}/first/${firstSecret()}`);
  await scheduleOnce(db, { kind: "sweep", subject: "files", dueAt: Date.now() });
  const now = config.ELENCO_STANDINS ? standInClock(db) : machineClock;
  await scheduleOnce(db, { kind: "rules", subject: "ledger", dueAt: await now() });
  await scheduleOnce(db, { kind: "forecast", subject: "lines", dueAt: await now() });
  const { calendar } = await loadPlaces(db);
  await scheduleOnce(db, { kind: "letter", subject: "week", dueAt: nextLetter(calendar, await now()) });
  const post = config.ELENCO_STANDINS && !config.SMTP_URL ? await startPost(db, now) : null;
  const files = filesFolder(config.ELENCO_DATA_DIR);
  const clientFolder = path.resolve("build/client");
  const build = (await import(pathToFileURL(path.resolve("build/server/index.js")).href)) as ServerBuild;
  const mailIn =
    config.MAIL_IN_PORT === undefined
      ? null
      : await startMailIn(
          async () => ({
            db,
            personId: null,
            now: await now(),
            origin: "mail",
            requestId: v7(),
            baseUrl: config.baseUrl,
            files,
            proven: false,
          }),
          config.MAIL_IN_HOST,
          config.MAIL_IN_PORT,
        );
  const live = startLive(db, log, now);
  const app = createApp({
    db,
    build,
    clientFolder,
    baseUrl: config.baseUrl,
    files,
    trustProxy: config.TRUST_PROXY,
    standIns: config.ELENCO_STANDINS,
    mailIn: mailIn?.port ?? null,
    now,
    live,
    log,
  });
  const server = createServer(app);
  server.listen(config.PORT, config.HOST);
  try {
    await once(server, "listening");
  } catch (error) {
    throw (error as NodeJS.ErrnoException).code === "EADDRINUSE"
      ? new Error(`Port ${config.PORT} is taken. Choose another with PORT, or stop what listens there.`)
      : error;
  }
  const stopJobs = startJobs({
    db,
    node: v7(),
    now,
    baseUrl: config.baseUrl,
    files,
    smtpUrl: config.SMTP_URL ?? post?.url ?? null,
    standIns: config.ELENCO_STANDINS,
    log,
  });
  return {
    async stop() {
      live.stop();
      server.close();
      server.closeIdleConnections();
      await stopJobs();
      await Promise.all([post?.stop(), mailIn?.stop()]);
      server.closeAllConnections();
      await disconnect(db);
    },
  };
}

/** So far may this machine's clock be from the database's, in milliseconds: more, and dates would not be what they say. */
const STRAY = 300_000;

/** @throws Error where the two clocks are far apart */
async function refuseStrayClock(db: Database): Promise<void> {
  const [[row]] = (await db.execute(sql`SELECT UTC_TIMESTAMP(3) AS at`)) as unknown as [{ at: string }[]];
  const apart = Math.abs(Date.now() - Date.parse(`${String(row?.at).replace(" ", "T")}Z`));
  if (apart <= STRAY) return;
  const minutes = Math.round(apart / 60_000);
  throw new Error(`The clocks of this machine and of the database are ${minutes} minutes apart. Set them right first.`);
}

/** How long what is in hand may take when a process is asked to end, in milliseconds. */
const PATIENCE = 8_000;

/** Stops a node, letting requests and jobs in hand finish, but not for long. */
export const stopSoon = (node: Node) => Promise.race([node.stop(), pause(PATIENCE)]);

/** Stops a node when the process is asked to end. */
export function stopOnSignal(node: Node): void {
  let stopping = false;
  for (const signal of ["SIGINT", "SIGTERM"] as const) {
    process.on(signal, async () => {
      if (stopping) return;
      stopping = true;
      await stopSoon(node);
      process.exit(0);
    });
  }
}
