import { spawn } from "node:child_process";
import { once } from "node:events";
import type { Readable, Writable } from "node:stream";
import { pipeline } from "node:stream/promises";

/** What MariaDB's own programs say when they fail, or that they are not there. */
export class ClientProblem extends Error {}

/**
 * Writes a whole database as SQL, as it stands at one instant, while others go on writing.
 *
 * @throws ClientProblem
 */
export const dump = (url: string, to: Writable): Promise<void> =>
  client("mariadb-dump", url, ["--single-transaction", "--quick", "--hex-blob", "--no-tablespaces"], (child) =>
    pipeline(child.stdout, to),
  );

/** Reads a database in from SQL, into one that is empty. @throws ClientProblem */
export const load = (url: string, sql: Readable): Promise<void> =>
  client("mariadb", url, ["--batch"], (child) => pipeline(sql, child.stdin));

async function client(
  program: string,
  address: string,
  options: readonly string[],
  carry: (child: { stdin: Writable; stdout: Readable }) => Promise<void>,
): Promise<void> {
  const url = new URL(address);
  const where = [
    `--host=${url.hostname}`,
    `--port=${url.port || 3306}`,
    `--user=${decodeURIComponent(url.username)}`,
    "--protocol=TCP",
    "--default-character-set=utf8mb4",
  ];
  const child = spawn(program, [...where, ...options, url.pathname.slice(1)], {
    // Not as an argument, which every process of the machine may read.
    env: { ...process.env, MYSQL_PWD: decodeURIComponent(url.password) },
    stdio: ["pipe", "pipe", "pipe"],
  });
  let said = "";
  child.stderr.on("data", (words) => {
    said += words;
  });
  const ended = once(child, "close").catch((error: NodeJS.ErrnoException) => {
    throw error.code === "ENOENT"
      ? new ClientProblem(`${program} is not on this machine; Debian has it in mariadb-client`)
      : error;
  });
  const carried = carry(child).catch((error: Error) => error);
  const [code] = await ended;
  if (code !== 0) throw new ClientProblem(`${program}: ${said.trim() || `ended with ${code}`}`);
  const problem = await carried;
  if (problem) throw problem;
}
