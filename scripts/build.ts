import { execFileSync } from "node:child_process";
import { existsSync, readdirSync, statSync } from "node:fs";
import path from "node:path";
import { pathToFileURL } from "node:url";
import { bundle } from "./bundle.ts";
import { pack } from "./pack.ts";

const SOURCES = ["app", "core", "server"];
const RESULT = "build/server/index.js";

/** Builds the application. Its output is shown only when it fails. */
export function build(): void {
  try {
    execFileSync("node_modules/.bin/react-router", ["build"], {
      stdio: "pipe",
      env: { ...process.env, NODE_ENV: "production" },
    });
    pack("build/client");
    bundle();
  } catch (error) {
    const { stdout, stderr } = error as { stdout?: Buffer; stderr?: Buffer };
    console.error(stderr ? `${stdout}${stderr}` : error);
    throw new Error("the application could not be built");
  }
}

/** Builds the application unless what was built last is newer than every source. */
export function buildWhenStale(): void {
  if (isStale()) build();
}

/** Whether a source is newer than what was built last. */
export const isStale = () => !existsSync(RESULT) || newestSource() > statSync(RESULT).mtimeMs;

function newestSource(): number {
  const files = [...sources(), "package-lock.json", "vite.config.ts", "react-router.config.ts"];
  return Math.max(...files.map((file) => statSync(file).mtimeMs));
}

const sources = () =>
  SOURCES.flatMap((folder) => readdirSync(folder, { recursive: true, withFileTypes: true }))
    .filter((entry) => entry.isFile())
    .map((entry) => path.join(entry.parentPath, entry.name));

if (import.meta.url === pathToFileURL(process.argv[1] ?? "").href) build();
