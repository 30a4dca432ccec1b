import { spawn, spawnSync } from "node:child_process";
import { once } from "node:events";
import { mkdirSync, mkdtempSync, readFileSync, rmSync } from "node:fs";
import { availableParallelism, tmpdir } from "node:os";
import path from "node:path";
import { stripVTControlCharacters } from "node:util";
import { HALVES, MORNING } from "../playwright.config.ts";
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
  lane(["types", process.execPath, ["node_modules/typescript-native/bin/tsc", "--noEmit"]]),
  lane(
    ["format and lint", bin("biome"), ["ci", "."]],
    ["dependencies point one way", bin("depcruise"), DEPENDENCIES],
    ["nothing unused", bin("knip"), []],
  ),
]);
buildOnce();
const folder = mkdtempSync(path.join(tmpdir(), "elenco-e2e-"));
const laid = layDemo();
await jest();
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

async function jest(): Promise<void> {
  const begun = performance.now();
  const report = path.resolve("test-results/jest.json");
  rmSync(report, { force: true });
  // One worker more than there are cores: what runs on a database waits for it a good part of the time.
  const child = spawn(bin("jest"), [`--maxWorkers=${availableParallelism() + 1}`, "--json", "--outputFile", report], {
    stdio: ["ignore", "ignore", "inherit"],
    env: { ...process.env, NODE_OPTIONS: "--experimental-vm-modules --disable-warning=ExperimentalWarning" },
  });
  await once(child, "close");
  const result = read(report);
  const broken = Number(result?.numFailedTests ?? 1) + Number(result?.numRuntimeErrorTestSuites ?? 0);
  suite("unit and server tests", Number(result?.numPassedTests ?? 0), broken, begun);
}

/** Lays down what the browser's tests begin with, beside the tests before them. */
async function layDemo(): Promise<void> {
  const halves = Object.keys(HALVES).map((half) => path.join(folder, half));
  const child = spawn(process.execPath, ["--import", "tsx", "tests/support/lay-demo.ts", MORNING, ...halves], {
    stdio: "inherit",
  });
  await once(child, "close");
}

async function endToEnd(): Promise<void> {
  await laid;
  const begun = performance.now();
  const report = "test-results/e2e.json";
  rmSync(report, { force: true });
  const port = await freePorts();
  spawnSync(bin("playwright"), ["test", ...process.argv.slice(2)], {
    stdio: "inherit",
    env: { ...process.env, ELENCO_DATA_DIR: folder, PORT: String(port) },
  });
  const told = read(report) as unknown as Told | null;
  rmSync(folder, { recursive: true, force: true });
  const { expected = 0, unexpected = 1, flaky = 0 } = told?.stats ?? {};
  suite("end to end", expected, unexpected + flaky, begun);
  // Once more at the very end, where it is found without scrolling past everything attached.
  for (const spec of told?.suites.flatMap(specsOf) ?? [])
    for (const error of spec.ok ? [] : spec.tests.flatMap((one) => one.results).flatMap((one) => one.errors))
      console.log(`${spec.file}: ${spec.title}\n${stripVTControlCharacters(error.message ?? "").slice(0, 1_500)}`);
}

/** What the browser's tests tell of themselves, as far as it is asked here. */
interface Told {
  stats: { expected: number; unexpected: number; flaky: number };
  suites: Suite[];
}

interface Suite {
  specs: Spec[];
  suites?: Suite[];
}

interface Spec {
  file: string;
  title: string;
  ok: boolean;
  tests: { results: { errors: { message?: string }[] }[] }[];
}

function specsOf({ specs, suites = [] }: Suite): Spec[] {
  return [...specs, ...suites.flatMap(specsOf)];
}

function suite(name: string, fine: number, broken: number, begun: number): void {
  passed += fine;
  failed += broken;
  console.log(`${broken ? "FAILED" : "passed"}: ${name}, ${fine} passed, ${broken} failed (${seconds(begun)})`);
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
