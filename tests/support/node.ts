import { type ChildProcess, spawn } from "node:child_process";
import { freePort } from "../../scripts/mariadb.ts";
import type { World } from "./world.ts";

/** Starts a program on a world's database, as a node in production is started. */
export const startOn = (
  world: World,
  [program, ...parameters]: [string, ...string[]],
  environment: Record<string, string>,
): ChildProcess =>
  spawn(program, parameters, {
    env: {
      ...process.env,
      NODE_OPTIONS: "",
      NODE_ENV: "production",
      DATABASE_URL: world.url,
      SESSION_SECRET: "s".repeat(32),
      LOG_LEVEL: "error",
      ...environment,
    },
    stdio: ["ignore", "pipe", "pipe"],
  });

/** A script of this project, run from its sources. */
export const script = (name: string): [string, ...string[]] => [
  process.execPath,
  "--import",
  "tsx",
  `scripts/${name}.ts`,
];

/** Waits until a node says that it is ready; what it says after that is let go. */
export async function ready({ stdout }: ChildProcess): Promise<void> {
  for await (const line of stdout ?? []) if (String(line).includes("ready")) break;
  stdout?.resume();
}

/** A node as it is built. */
export const NODE: [string, ...string[]] = [process.execPath, "build/server/node.js"];

/** Starts a node on a world, which sends its mail to a server; it is ready. */
export async function startNode(world: World, smtpUrl: string): Promise<ChildProcess> {
  const child = startOn(world, NODE, { PORT: String(await freePort()), SMTP_URL: smtpUrl });
  child.stderr?.pipe(process.stderr);
  await ready(child);
  return child;
}
