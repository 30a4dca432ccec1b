import { setMaxListeners } from "node:events";
import { setTimeout as pause } from "node:timers/promises";
import { isDatabaseGone } from "../db/client.ts";
import type { TaskKind } from "../tasks/schedule.ts";
import { absences, access, guests } from "./access.ts";
import { adoptions } from "./adoptions.ts";
import { bundles } from "./bundles.ts";
import { calls } from "./calls.ts";
import { claimDue, dueKinds, finish, letRest, putOff, type Task } from "./claim.ts";
import { editions, editionsAhead } from "./editions.ts";
import { endings, endingsSoon } from "./endings.ts";
import { errands } from "./errands.ts";
import { feeds } from "./feeds.ts";
import { forecasts } from "./forecasts.ts";
import type { Job, Worker } from "./job.ts";
import { letters } from "./letters.ts";
import { mail } from "./mail.ts";
import { releases } from "./releases.ts";
import { reminders } from "./reminders.ts";
import { rules, rulesAgain } from "./rules.ts";
import { search } from "./search.ts";
import { sweep } from "./sweep.ts";
import { thanks } from "./thanks.ts";
import { thinning } from "./thinning.ts";

const JOBS: Record<TaskKind, Job> = {
  release: releases,
  mail,
  adoption: adoptions,
  absence: absences,
  access,
  guest: guests,
  thinning,
  sweep,
  search,
  reminder: reminders,
  bundle: bundles,
  edition: editions,
  "edition-look": editionsAhead,
  ending: endings,
  "ending-soon": endingsSoon,
  rules,
  "rule-again": rulesAgain,
  thanks,
  call: calls,
  feed: feeds,
  errand: errands,
  forecast: forecasts,
  letter: letters,
};
const KINDS = Object.keys(JOBS) as TaskKind[];
/** How often it is asked what is due, and how long a kind rests after a failure, in milliseconds. */
const ASKED_EVERY = 300;
const AFTER_ERROR = 2_000;

/**
 * Does every kind of task again and again until stopped, the kinds beside each other: one query asks of which
 * kinds some are due. Any number of nodes may run it, since tasks are claimed by lease.
 *
 * @returns a function that stops it and waits for the work in hand
 */
export function startJobs(worker: Worker): () => Promise<void> {
  const stop = new AbortController();
  // Every kind may rest at once, and with them who asks what is due.
  setMaxListeners(KINDS.length + 1, stop.signal);
  const underWay = new Map<TaskKind, Promise<void>>();
  const begin = async () => {
    const due = await dueKinds(worker, await worker.now());
    for (const kind of KINDS)
      if (due.has(kind) && !underWay.has(kind))
        underWay.set(
          kind,
          doAllDue(kind, worker, stop.signal).finally(() => underWay.delete(kind)),
        );
  };
  const watching = (async () => {
    while (!stop.signal.aborted) {
      await orRest(worker, "all", stop.signal, begin);
      await rest(ASKED_EVERY, stop.signal);
    }
  })();
  return async () => {
    stop.abort();
    await watching;
    await Promise.all(underWay.values());
  };
}

/** Does what is due of a kind until nothing of it is. */
const doAllDue = (kind: TaskKind, worker: Worker, signal: AbortSignal): Promise<void> =>
  orRest(worker, kind, signal, async () => {
    while (!signal.aborted && (await doDue(worker, kind)) > 0);
  });

/** Logs a failure and rests after it: whatever is still due is asked for again. */
async function orRest(worker: Worker, job: string, signal: AbortSignal, work: () => Promise<void>): Promise<void> {
  try {
    await work();
  } catch (error) {
    if (isDatabaseGone(error)) worker.log.warn({ job }, "the database does not answer; the job waits");
    else worker.log.error({ job, err: error }, "a job failed and will be tried again");
    await rest(AFTER_ERROR, signal);
  }
}

const rest = (milliseconds: number, signal: AbortSignal) =>
  pause(milliseconds, undefined, { signal }).catch(() => undefined);

/** Does the tasks of one kind that are due, as many as are claimed at once. @returns how many were claimed */
export async function doDue(worker: Worker, kind: TaskKind): Promise<number> {
  const job = JOBS[kind];
  const now = await worker.now();
  const claimed = await claimDue(worker, kind, now, job);
  if (await doneTogether(worker, kind, claimed, now)) return claimed.length;
  for (const task of claimed) {
    try {
      const again = await job.run(worker, task, now);
      if (again === null) await finish(worker, task);
      else await putOff(worker, task, again);
    } catch (error) {
      if (isDatabaseGone(error)) throw error;
      worker.log.error({ job: kind, task: task.subject, err: error }, "a task failed and will be tried again");
      await letRest(worker, task);
    }
  }
  return claimed.length;
}

/** @returns whether all that was claimed is done: by a job that does several at once, where nothing went wrong */
async function doneTogether(worker: Worker, kind: TaskKind, claimed: readonly Task[], now: number): Promise<boolean> {
  const { together } = JOBS[kind];
  if (!together || claimed.length < 2) return false;
  try {
    await together(worker, claimed, now);
    await finish(worker, ...claimed);
    return true;
  } catch (error) {
    if (isDatabaseGone(error)) throw error;
    worker.log.warn({ job: kind, err: error }, "several tasks at once failed; each is tried alone");
    return false;
  }
}
