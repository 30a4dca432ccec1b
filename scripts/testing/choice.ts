import { readdirSync } from "node:fs";
import path from "node:path";

/** The parts of a run, in the order in which they are run. */
export const PARTS = ["types", "lint", "dependencies", "unused", "build", "unit", "server", "e2e"] as const;
export type PartName = (typeof PARTS)[number];

/** What one run is to do. */
export interface Chosen {
  parts: ReadonlySet<PartName>;
  /** The test files, by the path from the project's root; each belongs to `unit`, `server` or `e2e`. */
  files: readonly string[];
  /** Whether specs run in the opposite order of the usual one. */
  reversed: boolean;
  /** Whether each spec runs by itself, with no other before it. */
  each: boolean;
  coverage: boolean;
}

const USAGE = `npm test [-- NAME …] [--reversed | --each] [--coverage]
  NAME is one of ${PARTS.join(", ")}, or words in the path of test files`;

/** Which part a test file belongs to. */
export const partOf = (file: string): PartName =>
  file.startsWith("tests/e2e/") ? "e2e" : file.startsWith("tests/server/") ? "server" : "unit";

/** Reads what a run is asked for; without names it is everything. */
export function chosenOf(asked: readonly string[]): Chosen | { problem: string } {
  const names = asked.filter((one) => !one.startsWith("--"));
  const options = asked.filter((one) => one.startsWith("--"));
  const unknown = options.find((one) => !["--reversed", "--each", "--coverage"].includes(one));
  if (unknown) return { problem: `There is no option ${unknown}.\n${USAGE}` };
  const all = testFiles();
  const parts = new Set<PartName>(names.length === 0 ? PARTS : names.filter(isPart));
  const files = new Set(all.filter((file) => parts.has(partOf(file))));
  for (const name of names.filter((one) => !isPart(one))) {
    const found = all.filter((file) => file.includes(name));
    if (found.length === 0) return { problem: `No part and no test file is called ${name}.\n${USAGE}` };
    for (const file of found) files.add(file);
  }
  for (const file of files) parts.add(partOf(file));
  const given = new Set(options);
  return {
    parts,
    files: [...files],
    reversed: given.has("--reversed"),
    each: given.has("--each"),
    coverage: given.has("--coverage"),
  };
}

const isPart = (name: string): name is PartName => (PARTS as readonly string[]).includes(name);

const FOLDERS = ["app", "bench", "cli", "core", "scripts", "server", "tests/server", "tests/e2e"];

const testFiles = () =>
  FOLDERS.flatMap((folder) =>
    readdirSync(folder, { recursive: true, encoding: "utf8" })
      .filter((file) => /\.(test|spec)\.tsx?$/.test(file))
      .map((file) => path.join(folder, file)),
  ).sort();
