import { type ChildProcess, execFileSync, spawn } from "node:child_process";
import { existsSync, mkdirSync, openSync, readFileSync, rmSync, statfsSync, writeFileSync } from "node:fs";
import { createServer } from "node:net";
import path from "node:path";
import { setTimeout as pause } from "node:timers/promises";
import mysql from "mysql2/promise";

/** A MariaDB server of this project's own, on loopback, with its data in one folder. */
export interface LocalMariaDb {
  /** Without a database name; append one. Ends with a slash. */
  url: string;
  pid: number;
  /** Ends the server cleanly and waits until it is gone. */
  stop(): Promise<void>;
}

interface Options {
  /** Do not wait for the disk on commit: for tests, whose data is thrown away. */
  volatile?: boolean;
  /** The port to listen on; a free one otherwise. */
  port?: number;
}

/** So much room a new database takes and the demo in it, in megabytes. */
const ROOM = 500;

/** @throws Error where the disk has no room for a new database */
function refuseNarrow(home: string): void {
  const { bavail, bsize } = statfsSync(home);
  const free = Math.floor((bavail * bsize) / 1e6);
  if (free < ROOM)
    throw new Error(`There is no room in ${home}: a new database takes ${ROOM} MB, and ${free} are free.`);
}

/**
 * Starts Debian's MariaDB with its data in `folder`, or takes over the one that an earlier run
 * left behind there. It listens on a free loopback port and belongs to no system service.
 */
export async function startMariaDb(folder: string, options: Options = {}): Promise<LocalMariaDb> {
  const home = path.resolve(folder);
  const data = path.join(home, "mariadb");
  const pidFile = path.join(home, "mariadb.pid");
  const portFile = path.join(home, "mariadb.port");
  mkdirSync(home, { recursive: true });

  const left = leftRunning(pidFile, portFile);
  if (left) {
    const url = `mysql://root@127.0.0.1:${left.port}/`;
    await answers(url, () => undefined);
    return { url, pid: left.pid, stop: () => end(left.pid, pidFile) };
  }

  const asRoot = process.getuid?.() === 0 ? ["--user=root"] : [];
  if (!existsSync(path.join(data, "mysql"))) {
    refuseNarrow(home);
    execFileSync(
      "mariadb-install-db",
      ["--no-defaults", `--datadir=${data}`, "--auth-root-authentication-method=normal", "--skip-test-db", ...asRoot],
      { stdio: "ignore" },
    );
  }
  const port = options.port ?? (await freePort());
  const log = openSync(path.join(home, "mariadb.log"), "a");
  const child = spawn(
    "mariadbd",
    [
      "--no-defaults",
      `--datadir=${data}`,
      // A socket's path may not exceed about 100 characters, which a deep checkout does.
      `--socket=/tmp/elenco-${port}.sock`,
      `--port=${port}`,
      "--bind-address=127.0.0.1",
      `--pid-file=${pidFile}`,
      "--character-set-server=utf8mb4",
      "--collation-server=utf8mb4_unicode_520_ci",
      "--innodb-buffer-pool-size=512M",
      "--innodb-log-file-size=256M",
      "--max-connections=200",
      "--skip-name-resolve",
      ...(options.volatile ? ["--innodb-flush-log-at-trx-commit=0", "--skip-innodb-doublewrite"] : []),
      ...asRoot,
    ],
    { detached: true, stdio: ["ignore", log, log] },
  );
  child.unref();
  writeFileSync(portFile, String(port));
  const url = `mysql://root@127.0.0.1:${port}/`;
  await answers(url, () => gone(child));
  const pid = child.pid as number;
  return { url, pid, stop: () => end(pid, pidFile) };
}

/** A loopback port that is free at this moment. */
export function freePort(): Promise<number> {
  return new Promise((resolve, reject) => {
    const probe = createServer();
    probe.once("error", reject);
    probe.listen(0, "127.0.0.1", () => {
      const { port } = probe.address() as { port: number };
      probe.close(() => resolve(port));
    });
  });
}

/** Whether a loopback port is free at this moment. */
export function isFree(port: number): Promise<boolean> {
  return new Promise((resolve) => {
    const probe = createServer();
    probe.once("error", () => resolve(false));
    probe.listen(port, "127.0.0.1", () => probe.close(() => resolve(true)));
  });
}

function leftRunning(pidFile: string, portFile: string) {
  if (!existsSync(pidFile) || !existsSync(portFile)) return null;
  const pid = Number(readFileSync(pidFile, "utf8"));
  const name = `/proc/${pid}/comm`;
  if (!existsSync(name) || !readFileSync(name, "utf8").startsWith("maria")) return null;
  return { pid, port: Number(readFileSync(portFile, "utf8")) };
}

const gone = (child: ChildProcess) =>
  child.exitCode === null ? undefined : `mariadbd ended with code ${child.exitCode}; see mariadb.log`;

async function answers(url: string, broken: () => string | undefined) {
  for (let i = 0; i < 1_200; i++) {
    const problem = broken();
    if (problem) throw new Error(problem);
    try {
      await (await mysql.createConnection(url)).end();
      return;
    } catch {
      await pause(100);
    }
  }
  throw new Error("MariaDB did not answer within two minutes");
}

async function end(pid: number, pidFile: string) {
  try {
    if (existsSync(`/proc/${pid}`)) process.kill(pid, "SIGTERM");
    for (let i = 0; i < 300 && existsSync(`/proc/${pid}`); i++) await pause(50);
  } finally {
    rmSync(pidFile, { force: true });
  }
}
