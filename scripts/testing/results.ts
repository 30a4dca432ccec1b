import { readFileSync } from "node:fs";
import { said, type Told } from "./reporter.ts";

interface PartResult {
  name: string;
  passed: number;
  failed: number;
  /** In milliseconds. */
  begun: number;
  ended: number;
}

const results: PartResult[] = [];
const failures: string[] = [];
const since = performance.now();

export const say = (words: string) => console.log(words);

/** Counts a check as one test. */
export function check(name: string, begun: number, fine: boolean, output: string): void {
  const ended = performance.now();
  results.push({ name, passed: fine ? 1 : 0, failed: fine ? 0 : 1, begun, ended });
  say(said(fine, name, ended - begun));
  if (!fine) fail(`${name}\n${output}`);
}

/** Counts a suite by what each of its tests amounted to, and by what went wrong beside them. */
export function suite(name: string, begun: number, told: readonly Told[], problems: readonly string[]): void {
  const broken = told.filter((one) => !one.passed);
  const failed = broken.length + problems.length;
  results.push({ name, passed: told.length - broken.length, failed, begun, ended: performance.now() });
  for (const problem of problems) fail(`${name}: ${problem}`);
  // Its reporter has told of each already; once more at the very end, where it is found without scrolling.
  for (const { file, title, problem } of broken) failures.push(`${file}: ${title}\n${problem.slice(0, 1_500)}`);
}

function fail(words: string): void {
  failures.push(words);
  say(`FAILED: ${words}`);
}

/** What a suite's reporter wrote; null where it did not come to its end. */
export function toldIn(file: string): Told[] | null {
  try {
    return JSON.parse(readFileSync(file, "utf8"));
  } catch {
    return null;
  }
}

export const counted = () => ({
  passed: results.reduce((sum, one) => sum + one.passed, 0),
  failed: results.reduce((sum, one) => sum + one.failed, 0),
});

/** Where the run spent its time, part by part, and once more what failed. */
export function table(): string {
  const rows = results.map(({ name, passed, failed, begun, ended }) => [
    name,
    clock(begun - since),
    `${((ended - begun) / 1000).toFixed(1)} s`,
    String(passed),
    String(failed),
  ]);
  const all = [["part", "from", "took", "passed", "failed"], ...rows];
  const widths = all[0]?.map((_, column) => Math.max(...all.map((row) => row[column]?.length ?? 0))) ?? [];
  const lines = all.map((row) =>
    row.map((cell, i) => (i === 0 ? cell.padEnd(widths[i] ?? 0) : cell.padStart(widths[i] ?? 0))).join("  "),
  );
  const whole = `the whole run took ${clock(performance.now() - since)}`;
  return [...failures.map((one) => `\nFAILED: ${one}`), "", ...lines, whole].join("\n");
}

function clock(milliseconds: number): string {
  const seconds = Math.round(milliseconds / 1000);
  return `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, "0")}`;
}
