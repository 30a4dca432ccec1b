import { mkdirSync } from "node:fs";
import { availableParallelism } from "node:os";
import { isStale } from "../build.ts";
import { bundle } from "../bundle.ts";
import { type Chosen, type PartName, partOf } from "./choice.ts";
import { type RunDatabase, startRunDatabase } from "./database.ts";
import { type Beside, type Ended, run, start } from "./programs.ts";
import { BEGUN } from "./reporter.ts";
import { check, say, suite, toldIn } from "./results.ts";

const bin = (name: string) => `node_modules/.bin/${name}`;
const SCRIPT = [process.execPath, "--disable-warning=ExperimentalWarning", "--import", "tsx"];
const SESSION_SECRET = "s".repeat(32);
const CORES = availableParallelism();
/** What a test process says of itself where it does not end; see `tests/support/alone.ts`. */
const LEFT_OPEN = "left open by a test";

/**
 * Runs the parts that are chosen, checks beside each other and suites one after another.
 *
 * @param onFolder told in which folder the run keeps its data, as soon as there is one
 */
export async function runParts(chosen: Chosen, onFolder: (folder: string) => void): Promise<void> {
  const wants = (...parts: PartName[]) => parts.some((part) => chosen.parts.has(part));
  const database = wants("server", "e2e") ? await startRunDatabase(onFolder) : null;
  try {
    const laid = database && layDatabases(database, wants("e2e"));
    await checks(chosen);
    // Quick enough to be done always, so that no test meets a node or a thread of before.
    if (wants("unit", "server", "e2e")) bundle();
    if (wants("unit", "server")) {
      if (wants("server")) await laid?.template;
      await unitAndServer(chosen, database);
    }
    if (wants("e2e") && database) {
      await laid?.demo;
      await endToEnd(chosen, database);
    }
  } finally {
    await database?.stop();
  }
}

async function checks({ parts }: Chosen): Promise<void> {
  const served = (parts.has("server") || parts.has("e2e")) && isStale();
  const one = async (part: PartName, command: readonly string[]) => {
    if (!parts.has(part) && !(part === "build" && served)) return;
    const begun = performance.now();
    const { fine, output, problems } = await run(part, command);
    check(part, begun, fine, [output, ...problems].join("\n"));
  };
  if (parts.has("types") || parts.has("unused")) await run("route types", [bin("react-router"), "typegen"]);
  await Promise.all([
    one("types", [process.execPath, "node_modules/typescript-native/bin/tsc", "--noEmit"]),
    (async () => {
      await one("lint", [bin("biome"), "ci", "."]);
      await one("dependencies", [
        bin("depcruise"),
        ...["app", "core", "server", "cli", "demo"],
        "--config",
        ".dependency-cruiser.cjs",
      ]);
      await one("unused", [bin("knip")]);
    })(),
  ]);
  await one("build", [...SCRIPT, "scripts/build.ts"]);
}

/** Lays down what tests begin with, beside the checks: the template first, the demo after it. */
function layDatabases(database: RunDatabase, demo: boolean) {
  const lay = async (what: string) => {
    const begun = performance.now();
    const { fine, output } = await run(`lay ${what}`, [
      ...SCRIPT,
      "tests/support/lay.ts",
      what,
      database.url,
      database.folder,
    ]);
    if (!fine) throw new Error(`the ${what} could not be laid down:\n${output}`);
    say(`laid: ${what} (${((performance.now() - begun) / 1000).toFixed(1)} s)`);
  };
  const template = lay("template");
  const all = demo ? template.then(() => lay("demo")) : template;
  // It is waited for once the checks are done; what goes wrong until then is told there.
  all.catch(() => undefined);
  return { template, demo: all };
}

async function unitAndServer({ files, coverage }: Chosen, database: RunDatabase | null): Promise<void> {
  const begun = performance.now();
  const wanted = files.filter((file) => partOf(file) !== "e2e");
  const loader = coverage ? "--experimental-vm-modules" : "--import tsx";
  const ended = await runSuite(
    "unit and server",
    // One worker more than there are cores: what runs on a database waits for it a good part of the time.
    [bin("jest"), `--maxWorkers=${CORES + 1}`, ...(coverage ? ["--coverage"] : []), "--runTestsByPath", ...wanted],
    {
      ...(database && { TEST_MARIADB: database.url }),
      SESSION_SECRET,
      NODE_OPTIONS: `${loader} --disable-warning=ExperimentalWarning`,
    },
  );
  suite("unit and server", begun, toldIn("test-results/jest.json") ?? [], ended.problems);
}

async function endToEnd({ files, reversed, each }: Chosen, database: RunDatabase): Promise<void> {
  const specs = files.filter((file) => partOf(file) === "e2e").map((file) => file.replace(/^.*\/|\.spec\.ts$/g, ""));
  const houses: Beside = await start("houses", [...SCRIPT, "tests/support/houses.ts", database.url, database.folder], {
    NODE_ENV: "production",
    LOG_LEVEL: "error",
    SESSION_SECRET,
  });
  mkdirSync("test-results/e2e", { recursive: true });
  try {
    for (const together of each ? specs.map((spec) => [spec]) : [specs]) {
      const begun = performance.now();
      const name = each ? `e2e ${together[0]}` : "e2e";
      const ended = await runSuite(name, [bin("playwright"), "test"], {
        ELENCO_HOUSES: houses.said,
        ELENCO_SPECS: together.join(),
        ELENCO_SPECS_REVERSED: reversed ? "true" : undefined,
      });
      suite(name, begun, toldIn("test-results/e2e.json") ?? [], ended.problems);
    }
  } finally {
    await houses.stop();
  }
}

/** Runs a suite and shows what it prints; names what was under way where it had to be ended. */
async function runSuite(
  name: string,
  command: readonly string[],
  env: Record<string, string | undefined>,
): Promise<Ended> {
  const underWay = new Set<string>();
  const leftOpen: string[] = [];
  const ended = await run(name, command, {
    env,
    underWay: () => `; under way were ${[...underWay].join(" and ")}`,
    onLine: (line) => {
      const begins = line.startsWith(BEGUN);
      if (begins) underWay.add(line.slice(BEGUN.length));
      for (const one of underWay) if (line.includes(`ed: ${one}`)) underWay.delete(one);
      if (line.startsWith(LEFT_OPEN)) leftOpen.push(line);
      if (!begins) say(line);
      return !begins;
    },
  });
  const problems = [...ended.problems, ...leftOpen];
  return { ...ended, problems };
}
