import { writeFileSync } from "node:fs";
import path from "node:path";
import type { TestResult } from "@jest/test-result";
import { BEGUN, said, type Told } from "./reporter.ts";

/** Says which test file begins and how each ended, and writes what every test amounted to in a file at the end. */
export default class JestReporter {
  readonly #told: Told[] = [];
  readonly #outputFile: string;

  constructor(_: unknown, { outputFile }: { outputFile: string }) {
    this.#outputFile = outputFile;
  }

  onTestFileStart(test: { path: string }): void {
    console.log(`${BEGUN}${path.relative("", test.path)}`);
  }

  onTestFileResult(test: { path: string }, result: TestResult): void {
    const told = toldBy(path.relative("", test.path), result);
    this.#told.push(...told);
    const passed = told.every((one) => one.passed);
    console.log(said(passed, `${path.relative("", test.path)}, ${told.length} tests`, result.perfStats?.runtime ?? 0));
    for (const one of told) if (!one.passed) console.log(one.problem);
  }

  onRunComplete(): void {
    writeFileSync(this.#outputFile, JSON.stringify(this.#told));
  }
}

function toldBy(file: string, { testResults = [], failureMessage, testExecError }: TestResult): Told[] {
  if (testExecError || testResults.length === 0) {
    const problem = failureMessage ?? testExecError?.message ?? "No test in it ran.";
    return [{ file, title: "the file itself", passed: false, duration: 0, problem }];
  }
  return testResults.map(({ ancestorTitles, title, status, duration, failureMessages }) => ({
    file,
    title: [...ancestorTitles, title].join(" › "),
    passed: status === "passed",
    duration: duration ?? 0,
    problem: failureMessages.join("\n"),
  }));
}
