import { existsSync, readFileSync, writeFileSync } from "node:fs";
import { missed } from "./aims.ts";
import type { Row } from "./measure.ts";

const OUT = "bench/results.json";
const WIDTHS = [58, 26, 36, 8, 18] as const;

interface Results {
  at: string;
  pieces: number;
  entries: number;
  rows: (Row & { missed: string[] })[];
  /** Parts that failed, with what they said. */
  failed: { part: string; problem: string }[];
}

/** The results of one run: each line is printed and written as soon as it is measured. */
export class Report {
  readonly #results: Results;
  readonly #earlier: Map<string, Row>;

  /** @throws Error where the results to compare with cannot be read */
  constructor(size: { pieces: number; entries: number }, against: string | undefined) {
    this.#results = { at: new Date().toISOString(), ...size, rows: [], failed: [] };
    this.#earlier = new Map(against === undefined ? [] : readRows(against).map((row) => [nameOf(row), row]));
    this.#print(["measured", "", "beside", "ratio", "aim"], against === undefined ? "" : `ratio in ${against}`);
  }

  record(...rows: Row[]): void {
    for (const row of rows) {
      const misses = missed(row);
      this.#results.rows.push({ ...row, missed: misses });
      this.#print(
        [row.what, row.measured, row.beside, row.ratio.toFixed(2), row.aim],
        [misses.length > 0 && "MISSED", this.#change(row)].filter(Boolean).join("  "),
      );
    }
    this.#write();
  }

  fail(part: string, error: unknown): void {
    const problem = error instanceof Error ? (error.stack ?? error.message) : String(error);
    this.#results.failed.push({ part, problem });
    console.log(`FAILED: ${part}: ${problem}`);
    this.#write();
  }

  /** Says how it went. @returns the exit code: 1 where an aim is missed or a part failed */
  close(): 0 | 1 {
    const { rows, failed } = this.#results;
    const misses = rows.filter((row) => row.missed.length > 0);
    console.log(`${rows.length} lines measured, ${misses.length} aims missed, ${failed.length} parts failed`);
    for (const row of misses) console.log(`missed: ${row.what}: ${row.missed.join(" and ")}`);
    for (const { part } of failed) console.log(`failed: ${part}`);
    return misses.length + failed.length > 0 ? 1 : 0;
  }

  #change(row: Row): string {
    const earlier = this.#earlier.get(nameOf(row));
    if (!earlier) return "";
    const percent = Math.round((row.ratio / earlier.ratio - 1) * 100);
    return `${earlier.ratio.toFixed(2)} (${percent >= 0 ? "+" : ""}${percent}%)`;
  }

  #print(cells: readonly string[], after: string): void {
    console.log(`${cells.map((cell, i) => cell.padEnd(WIDTHS[i] ?? 0)).join("  ")}  ${after}`.trimEnd());
  }

  #write(): void {
    writeFileSync(OUT, `${JSON.stringify(this.#results, null, 2)}\n`);
  }
}

/** What a line is about, whatever it counted: by this it is found again in earlier results. */
const nameOf = ({ what }: Row) => what.replace(/[\d.,]+/g, "#");

function readRows(file: string): Row[] {
  if (!existsSync(file)) throw new Error(`--against: ${file} cannot be read.`);
  return (JSON.parse(readFileSync(file, "utf8")) as Results).rows;
}
