import { Agent, get } from "node:http";
/** One line of the table: what was measured, what stood beside it, and how they compare. */
export interface Row {
  what: string;
  measured: string;
  beside: string;
  ratio: number;
  /** What the ratio should not exceed; for rates, what it should reach. */
  aim: string;
}

/** The value below which a share of the samples lies. @param share from 0 to 1 */
export function percentile(samples: readonly number[], share: number): number {
  const sorted = samples.toSorted((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))] ?? Number.NaN;
}

/** The median time of a task in milliseconds, over `times` runs after a few to warm up. */
export async function medianTime(task: () => unknown, times: number): Promise<number> {
  return (await medianTimes([task], times))[0] as number;
}

/** The median time of each of several tasks in milliseconds, run in turns, so that all meet the same machine. */
export async function medianTimes(tasks: readonly (() => unknown)[], times: number): Promise<number[]> {
  const samples: number[][] = tasks.map(() => []);
  for (let i = -3; i < times; i++) {
    for (const [which, task] of tasks.entries()) {
      const begun = performance.now();
      await task();
      if (i >= 0) samples[which]?.push(performance.now() - begun);
    }
  }
  return samples.map((one) => percentile(one, 0.5));
}

/** How often a synchronous task runs in a second, over about the time given in milliseconds. */
export function perSecond(task: (i: number) => unknown, span: number): number {
  const begun = performance.now();
  let done = 0;
  while (performance.now() - begun < span) task(done++);
  return (done * 1000) / (performance.now() - begun);
}

/**
 * The 95th percentile of whole requests in milliseconds for each of several pages, with so many clients
 * at once, asked in turns, so that all meet the same machine.
 */
export async function requestTimes(
  pages: readonly { url: string; cookie: string }[],
  clients: number,
  requests: number,
): Promise<number[]> {
  const samples: number[][] = pages.map(() => []);
  const agent = new Agent({ keepAlive: true, maxSockets: clients });
  for (let turn = -2; turn < TURNS; turn++) {
    for (const [which, { url, cookie }] of pages.entries()) {
      let left = Math.ceil(requests / TURNS);
      const client = async () => {
        while (left-- > 0) {
          const begun = performance.now();
          await answered(url, cookie, agent);
          if (turn >= 0) samples[which]?.push(performance.now() - begun);
        }
      };
      await Promise.all(Array.from({ length: clients }, client));
    }
  }
  agent.destroy();
  return samples.map((one) => percentile(one, 0.95));
}

/** Asks for a page and reads it to its end; of clients in a process this takes the least of a machine that also serves. */
const answered = (url: string, cookie: string, agent: Agent) =>
  new Promise((done, fail) => {
    const reading = get(url, { agent, headers: { cookie, "accept-encoding": "gzip" } }, (page) =>
      page.on("end", done).on("error", fail).resume(),
    );
    reading.on("error", fail);
  });

const TURNS = 8;
