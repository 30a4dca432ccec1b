import { type Became, carryOut } from "../passage/carry-out.ts";
import type { Task } from "./claim.ts";
import { actOf, type Job, type Worker } from "./job.ts";

/** Carries out releases whose time has come, those that are due at one time together. */
export const releases: Job = {
  lease: 15_000,
  batch: 50,
  async together(worker, tasks, now) {
    log(worker, await leave(worker, tasks, now));
  },
  async run(worker, task, now) {
    log(worker, await leave(worker, [task], now));
    return null;
  },
};

async function leave(worker: Worker, tasks: readonly Task[], now: number): Promise<Map<string, Became>> {
  const subjects = tasks.map((task) => task.subject);
  const done = await carryOut(actOf(worker, "releases", now), subjects);
  if (!done.ok) throw new Error(`releases could not be carried out: ${done.refusal.code}`);
  return done.value;
}

function log(worker: Worker, became: Map<string, Became>): void {
  for (const [release, what] of became) if (what !== "gone") worker.log.info({ release, became: what }, "release");
}
