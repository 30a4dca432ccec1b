import { spawn } from "node:child_process";
import { randomUUID } from "node:crypto";
import { once } from "node:events";
import { readdirSync, readFileSync } from "node:fs";
import { createInterface } from "node:readline";
import { setTimeout as pause } from "node:timers/promises";

/** Every process of a run carries this in its environment, however far down it was started. */
const MARK = "ELENCO_TEST_RUN";
const RUN = randomUUID();
/** A program that neither prints nor computes anything for this long hangs, in milliseconds. */
const SILENCE = 240_000;
/** One that computes and prints nothing may take so many times as long: on a slow machine a compiler does. */
const PATIENCE = 4;
/** The share of one core above which a program computes. */
const COMPUTES = 0.05;
/** How long a process may take to end before it is killed, in milliseconds. */
const GRACE = 5_000;

/** Lets what this process starts otherwise, such as the database, belong to the run too. */
export function beginRun(): void {
  process.env[MARK] = markOf("");
}

/** How a program ended. */
export interface Ended {
  /** Whether it ended by itself, with exit code 0. */
  fine: boolean;
  output: string;
  /** What it left running, and why it was ended, a sentence each. */
  problems: string[];
}

interface Options {
  env?: Record<string, string | undefined>;
  /** Told of each line as it is printed. @returns whether the line is kept and counts as output */
  onLine?: (line: string) => boolean;
  /** What is under way, for the sentence about a program that hangs. */
  underWay?: () => string;
  /** How long it may print nothing, in milliseconds. */
  silence?: number;
}

/**
 * Runs a program to its end. One that falls silent is ended and said to hang; whatever process it
 * leaves behind is ended too, and is a problem.
 */
export async function run(name: string, command: readonly string[], options: Options = {}): Promise<Ended> {
  const mark = markOf(name);
  const [program = "", ...parameters] = command;
  const child = spawn(program, parameters, {
    stdio: ["ignore", "pipe", "pipe"],
    detached: true,
    env: { ...process.env, ...options.env, [MARK]: mark },
  });
  const lines: string[] = [];
  const problems: string[] = [];
  const silence = options.silence ?? SILENCE;
  let silences = 0;
  let computed = 0;
  const hang = () => {
    const now = computedBy(mark);
    const computes = now - computed > silence * COMPUTES;
    computed = now;
    silences += 1;
    if (computes && silences < PATIENCE) {
      watch = setTimeout(hang, silence);
      return;
    }
    problems.push(
      `${name} printed nothing for ${(silences * silence) / 1000} s and was ended${options.underWay?.() ?? ""}.`,
    );
    void endAll(mark);
  };
  let watch = setTimeout(hang, silence);
  const closed = once(child, "close");
  const reading = [child.stdout, child.stderr].map(async (stream) => {
    for await (const line of createInterface(stream)) {
      clearTimeout(watch);
      silences = 0;
      watch = setTimeout(hang, silence);
      if (options.onLine?.(line) ?? true) lines.push(line);
    }
  });
  const [code] = await closed;
  await Promise.all(reading);
  clearTimeout(watch);
  for (const left of await leftBehind(mark)) problems.push(`${name} left ${left} running.`);
  await endAll(mark);
  return { fine: code === 0 && problems.length === 0, output: lines.join("\n"), problems };
}

/** A program that goes on running beside the others. */
export interface Beside {
  /** Its first line. */
  said: string;
  stop(): Promise<void>;
}

/** Starts a program that says one line when it is ready, and then runs until it is stopped. */
export async function start(
  name: string,
  command: readonly string[],
  env: Record<string, string | undefined>,
): Promise<Beside> {
  const mark = markOf(name);
  const [program = "", ...parameters] = command;
  const child = spawn(program, parameters, {
    stdio: ["ignore", "pipe", "inherit"],
    detached: true,
    env: { ...process.env, ...env, [MARK]: mark },
  });
  for await (const said of createInterface(child.stdout)) {
    child.stdout.resume();
    return { said, stop: () => endAll(mark) };
  }
  throw new Error(`${name} ended before it was ready`);
}

const markOf = (name: string) => `${RUN}/${name}`;

/** Ends every process of the run, or of one program of it, and waits until they are gone. */
export async function endAll(mark = markOf("")): Promise<void> {
  for (const signal of ["SIGTERM", "SIGKILL"] as const) {
    for (const pid of processes(mark)) send(pid, signal);
    const end = Date.now() + GRACE;
    while (Date.now() < end && processes(mark).length > 0) await pause(50);
  }
}

function send(pid: number, signal: NodeJS.Signals): void {
  try {
    process.kill(pid, signal);
  } catch {
    // It ended by itself meanwhile.
  }
}

/** What a program that ended has left running; a process on its way out is given a moment. */
async function leftBehind(mark: string): Promise<string[]> {
  for (let i = 0; i < 40 && processes(mark).length > 0; i++) await pause(50);
  return processes(mark).map((pid) => `process ${pid} (${read(pid, "cmdline").replaceAll("\0", " ").slice(0, 120)})`);
}

function processes(mark: string): number[] {
  return readdirSync("/proc")
    .map(Number)
    .filter((pid) => pid > 0 && pid !== process.pid)
    .filter((pid) => read(pid, "environ").includes(`${MARK}=${mark}`) && !/^State:\s+Z/m.test(read(pid, "status")));
}

/** How long the processes of a program have computed, in milliseconds: the kernel counts hundredths of a second. */
function computedBy(mark: string): number {
  const ticks = processes(mark).map((pid) => {
    const [, , , , , , , , , , , user = "0", system = "0"] = read(pid, "stat")
      .replace(/^.*\) /, "")
      .split(" ");
    return Number(user) + Number(system);
  });
  return ticks.reduce((sum, one) => sum + one, 0) * 10;
}

function read(pid: number, what: string): string {
  try {
    return readFileSync(`/proc/${pid}/${what}`, "latin1");
  } catch {
    return "";
  }
}
