import { setTimeout as pause } from "node:timers/promises";
import { isDatabaseGone } from "../db/client.ts";
import { adoptDue } from "./adoptions.ts";
import type { Job, Worker } from "./job.ts";
import { mailDue } from "./mail.ts";
import { releaseDue } from "./releases.ts";
import { seatsDue } from "./seats.ts";
import { versionsDue } from "./versions.ts";

const SOON = 500;
/** Every job, and how many milliseconds it rests when there was nothing to do. */
const JOBS: Record<string, { job: Job; rest: number }> = {
  releases: { job: releaseDue, rest: SOON },
  mail: { job: mailDue, rest: SOON },
  adoptions: { job: adoptDue, rest: SOON },
  versions: { job: versionsDue, rest: 60_000 },
  seats: { job: seatsDue, rest: 5_000 },
};
const AFTER_ERROR = 2_000;

/**
 * Runs every job again and again until stopped: at once while there is work, else after its rest.
 * Any number of nodes may run it, since work is claimed by lease.
 *
 * @returns a function that stops it and waits for the work in hand
 */
export function startJobs(worker: Worker): () => Promise<void> {
  const stop = new AbortController();
  const loops = Object.entries(JOBS).map(([name, { job, rest }]) => run(name, job, rest, worker, stop.signal));
  return async () => {
    stop.abort();
    await Promise.all(loops);
  };
}

async function run(name: string, job: Job, rest: number, worker: Worker, signal: AbortSignal): Promise<void> {
  while (!signal.aborted) {
    let wait = rest;
    try {
      if ((await job(worker)) > 0) wait = 0;
    } catch (error) {
      wait = AFTER_ERROR;
      if (isDatabaseGone(error)) worker.log.warn({ job: name }, "the database does not answer; the job waits");
      else worker.log.error({ job: name, err: error }, "a job failed and will be tried again");
    }
    await pause(wait, undefined, { signal }).catch(() => undefined);
  }
}
