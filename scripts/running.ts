import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import path from "node:path";

/** A demo that runs on a folder of data. */
export interface Running {
  pid: number;
  url: string;
}

const noteIn = (folder: string) => path.join(folder, "demo.json");

/** The demo that runs on a folder just now; null where there is none, or only what a dead one left behind. */
export function runningOn(folder: string): Running | null {
  const note = noteIn(folder);
  if (!existsSync(note)) return null;
  const running = JSON.parse(readFileSync(note, "utf8")) as Running;
  const command = `/proc/${running.pid}/cmdline`;
  return existsSync(command) && readFileSync(command, "utf8").includes("scripts/demo.ts") ? running : null;
}

/** Notes that this process runs on a folder. */
export function noteRunning(folder: string, url: string): void {
  mkdirSync(folder, { recursive: true });
  writeFileSync(noteIn(folder), JSON.stringify({ pid: process.pid, url } satisfies Running));
}

/** Takes the note away as the process ends. */
export const forgetRunning = (folder: string) => rmSync(noteIn(folder), { force: true });
