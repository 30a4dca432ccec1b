import { writeFileSync } from "node:fs";
import path from "node:path";
import { stripVTControlCharacters } from "node:util";
import type { Reporter, TestCase, TestError, TestResult } from "@playwright/test/reporter";
import { BEGUN, said, type Told } from "./reporter.ts";

/** Says which walk begins and how each ended, and writes what every one amounted to in a file at the end. */
export default class WalkReporter implements Reporter {
  readonly #told: Told[] = [];
  readonly #outputFile: string;

  constructor({ outputFile }: { outputFile: string }) {
    this.#outputFile = outputFile;
  }

  onTestBegin(test: TestCase): void {
    console.log(`${BEGUN}${nameOf(test)}`);
  }

  onTestEnd(test: TestCase, { status, duration, errors, retry, attachments }: TestResult): void {
    const passed = status === "passed";
    if (retry > 0) {
      console.log(`walked again: ${nameOf(test)}, ${kept(attachments)}`);
      return;
    }
    const problem = errors.map(wordsOf).join("\n");
    const { file } = placeOf(test);
    this.#told.push({ file, title: test.title, passed, duration, problem });
    console.log(said(passed, nameOf(test), duration));
    if (!passed) console.log(problem);
  }

  /** What goes wrong outside every walk: a file that cannot be read, a worker that does not end. */
  onError(error: TestError): void {
    this.#told.push({
      file: "tests/e2e",
      title: "the run itself",
      passed: false,
      duration: 0,
      problem: wordsOf(error),
    });
    console.log(wordsOf(error));
  }

  onEnd(): void {
    writeFileSync(this.#outputFile, JSON.stringify(this.#told));
  }
}

const kept = (attachments: TestResult["attachments"]) =>
  attachments.map((one) => `${one.name} in ${path.relative("", one.path ?? "")}`).join(", ");
const placeOf = ({ location }: TestCase) => ({ file: path.relative("", location.file), line: location.line });
const nameOf = (test: TestCase) => `${placeOf(test).file}:${placeOf(test).line} ${test.title}`;
const wordsOf = ({ message, stack, value, snippet }: TestError) =>
  stripVTControlCharacters([stack ?? message ?? value ?? "", snippet ?? ""].join("\n")).slice(0, 4_000);
