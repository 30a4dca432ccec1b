// The one entry of every package script. It may import nothing that is not part of Node: on a
// fresh clone nothing else is there yet, and installing it is the first thing it does.
import { execFileSync, spawn, spawnSync } from "node:child_process";
import { existsSync, readFileSync, statSync } from "node:fs";

const COMMANDS = {
  demo: { script: "scripts/demo.ts", packages: ["mariadb-server"], serves: true },
  start: { script: "build/server/node.js", packages: [], serves: true, builtBy: "scripts/build.ts" },
  test: { script: "scripts/test.ts", packages: ["mariadb-server", "chromium-headless-shell"] },
  bench: { script: "bench/run.ts", packages: ["mariadb-server", "chromium-headless-shell"] },
  elenco: { script: "cli/elenco.ts", packages: [] },
  screenshots: { script: "scripts/screenshots.ts", packages: ["mariadb-server", "chromium-headless-shell"] },
};
const PROGRAMS = { "mariadb-server": "mariadbd", "chromium-headless-shell": "chromium-headless-shell" };
/** How Node runs what is written in TypeScript. */
const BY_TSX = ["--disable-warning=ExperimentalWarning", "--import", "tsx"];

const [name, ...rest] = process.argv.slice(2);
const command = COMMANDS[name];
if (!command) {
  console.error(`There is no command "${name ?? ""}"; there are ${Object.keys(COMMANDS).join(", ")}.`);
  process.exit(2);
}
installNodePackages();
installDebianPackages(command.packages);
if (command.builtBy && !existsSync(command.script)) run(process.execPath, [...BY_TSX, command.builtBy]);

const child = spawn(process.execPath, [...(command.builtBy ? [] : BY_TSX), command.script, ...rest], {
  stdio: "inherit",
  env: command.serves ? { ...process.env, NODE_ENV: "production" } : process.env,
});
for (const signal of ["SIGINT", "SIGTERM"]) process.on(signal, () => child.kill(signal));
child.on("exit", (code, signal) => process.exit(signal ? 1 : code));

function installNodePackages() {
  const marker = "node_modules/.package-lock.json";
  if (existsSync(marker) && statSync(marker).mtimeMs >= statSync("package-lock.json").mtimeMs) return;
  if (existsSync(marker) && sameVersions(marker)) return;
  say("Installing npm packages …");
  // Not `npm ci`: it refuses a lock file from a registry that lacks other platforms' optional binaries.
  run("npm", ["install", "--no-save", "--no-audit", "--no-fund", "--loglevel=error"]);
}

function sameVersions(marker) {
  const versions = (file) =>
    Object.entries(JSON.parse(readFileSync(file, "utf8")).packages ?? {})
      .filter(([at]) => at)
      .map(([at, entry]) => `${at} ${entry.version}`);
  const wanted = new Set(versions("package-lock.json"));
  return versions(marker).every((entry) => wanted.has(entry));
}

function installDebianPackages(packages) {
  const missing = packages.filter((one) => spawnSync("which", [PROGRAMS[one]]).status !== 0);
  if (missing.length === 0) return;
  if (process.getuid?.() !== 0) {
    console.error(`Debian's ${missing.join(" and ")} must be installed first: apt-get install ${missing.join(" ")}`);
    process.exit(1);
  }
  say(`Installing ${missing.join(" and ")} from Debian …`);
  const env = { ...process.env, DEBIAN_FRONTEND: "noninteractive" };
  run("apt-get", ["update", "-qq"], env);
  run("apt-get", ["install", "-y", "-qq", "--no-install-recommends", ...missing], env);
}

function run(program, parameters, env = process.env) {
  try {
    execFileSync(program, parameters, { stdio: ["ignore", "pipe", "inherit"], env });
  } catch (error) {
    console.error(`${program} ${parameters[0]} failed: ${error.message}`);
    process.exit(1);
  }
}

function say(sentence) {
  console.error(sentence);
}
