import { spawn, spawnSync } from "node:child_process";
import { once } from "node:events";
import { mkdirSync, mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { build } from "./build.ts";
import { freePort, isFree } from "./mariadb.ts";

/** Everything that must hold before a change lands; a check counts as one test, a suite as what it ran. */
let passed = 0;
let failed = 0;

const DEPENDENCIES = ["app", "core", "server", "cli", "demo", "--config", ".dependency-cruiser.cjs"];
const bin = (name: string) => `node_modules/.bin/${name}`;

mkdirSync("test-results", { recursive: true });
check("types of the routes", bin("react-router"), ["typegen"]);
await Promise.all([
  lane(["types", bin("tsc"), ["--noEmit"]]),
  lane(
    ["format and lint", bin("biome"), ["ci", "."]],
    ["dependencies point one way", bin("depcruise"), DEPENDENCIES],
    ["nothing unused", bin("knip"), []],
  ),
]);
buildOnce();
jest("unit");
jest("server");
await endToEnd();
console.log(`${passed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);

function check(name: string, program: string, parameters: readonly string[]): void {
  const begun = performance.now();
  const { status, stdout, stderr } = spawnSync(program, parameters, { encoding: "utf8" });
  count(name, status === 0, begun, `${stdout}${stderr}`);
}

/** Checks one after another, beside those of other lanes. */
async function lane(...checks: [name: string, program: string, parameters: readonly string[]][]): Promise<void> {
  for (const [name, program, parameters] of checks) {
    const begun = performance.now();
    const child = spawn(program, parameters, { stdio: ["ignore", "pipe", "pipe"] });
    let output = "";
    for (const stream of [child.stdout, child.stderr]) stream.on("data", (chunk) => (output += chunk));
    const [code] = await once(child, "close");
    count(name, code === 0, begun, output);
  }
}

function buildOnce(): void {
  const begun = performance.now();
  try {
    build();
    count("build", true, begun, "");
  } catch (error) {
    count("build", false, begun, String(error));
  }
}

function count(name: string, fine: boolean, begun: number, output: string): void {
  if (fine) passed += 1;
  else failed += 1;
  console.log(`${fine ? "passed" : "FAILED"}: ${name} (${seconds(begun)})${fine ? "" : `\n${output}`}`);
}

function jest(project: string): void {
  const begun = performance.now();
  const report = path.resolve(`test-results/${project}.json`);
  rmSync(report, { force: true });
  spawnSync(bin("jest"), ["--selectProjects", project, "--maxWorkers=2", "--json", "--outputFile", report], {
    stdio: ["ignore", "ignore", "inherit"],
    env: { ...process.env, NODE_OPTIONS: "--experimental-vm-modules --disable-warning=ExperimentalWarning" },
  });
  const result = read(report);
  const broken = Number(result?.numFailedTests ?? 1) + Number(result?.numRuntimeErrorTestSuites ?? 0);
  passed += Number(result?.numPassedTests ?? 0);
  failed += broken;
  console.log(
    `${broken ? "FAILED" : "passed"}: ${project} tests, ${result?.numPassedTests ?? 0} passed, ${broken} failed (${seconds(begun)})`,
  );
}

async function endToEnd(): Promise<void> {
  const begun = performance.now();
  const report = "test-results/e2e.json";
  rmSync(report, { force: true });
  const folder = mkdtempSync(path.join(tmpdir(), "elenco-e2e-"));
  const port = await freePorts();
  spawnSync(bin("playwright"), ["test", ...process.argv.slice(2)], {
    stdio: "inherit",
    env: { ...process.env, ELENCO_DATA_DIR: folder, PORT: String(port) },
  });
  const stats = read(report)?.stats as { expected: number; unexpected: number; flaky: number } | undefined;
  const broken = stats ? stats.unexpected + stats.flaky : 1;
  passed += stats?.expected ?? 0;
  failed += broken;
  rmSync(folder, { recursive: true, force: true });
  console.log(
    `${broken ? "FAILED" : "passed"}: end to end, ${stats?.expected ?? 0} passed, ${broken} failed (${seconds(begun)})`,
  );
}

/** A port that is free together with the next one. */
async function freePorts(): Promise<number> {
  for (;;) {
    const port = await freePort();
    if (port < 65_535 && (await isFree(port + 1))) return port;
  }
}

function read(file: string): Record<string, unknown> | null {
  try {
    return JSON.parse(readFileSync(file, "utf8"));
  } catch {
    return null;
  }
}

function seconds(begun: number): string {
  return `${((performance.now() - begun) / 1000).toFixed(1)} s`;
}
