import path from "node:path";
import { Piscina } from "piscina";
import { GivenUp, inTurn } from "./turns.ts";
import type * as Work from "./work.ts";

/** So long one piece of work may take, its start and its wait for a free thread included, in milliseconds. */
const TIME = 12_000;
/** So much memory one thread may take, in megabytes. */
const MEMORY = 384;
const THREADS = 2;
let pool: Piscina | undefined;

const threads = () =>
  new Piscina({
    // Bundled by `scripts/bundle.ts`, wherever this module itself runs from.
    filename: path.resolve("build/server/thread.js"),
    execArgv: [],
    minThreads: 0,
    maxThreads: THREADS,
    idleTimeout: 60_000,
    resourceLimits: { maxOldGenerationSizeMb: MEMORY },
    // A thread may die of its memory after its work was given up: whoever asked was told already,
    // another thread takes its place, and an error nobody hears would end the node.
  }).on("error", () => undefined);

/**
 * Runs a function of `server/apart/work.ts` in a thread of its own, so that no request holds the node:
 * with an end to its time and its memory, and one at a time for each person.
 *
 * @param name the function's name
 * @param input what it is given; a structured clone arrives there
 * @param who for whom it is done: what else they asked for is done first
 * @throws GivenUp where it took too much, or too much of theirs waits already
 */
export const apart = <Name extends keyof typeof Work>(
  name: Name,
  input: Parameters<(typeof Work)[Name]>[0],
  who: string,
): Promise<Awaited<ReturnType<(typeof Work)[Name]>>> => inTurn(who, () => inThread(name, input));

async function inThread(name: string, input: unknown) {
  pool ??= threads();
  try {
    return await pool.run({ name, input }, { signal: AbortSignal.timeout(TIME) });
  } catch (error) {
    const { name: kind, code } = error as { name?: string; code?: string };
    if (kind === "AbortError" || kind === "TimeoutError")
      throw new GivenUp(`It took longer than ${TIME / 1_000} seconds and was given up. Try it in parts.`);
    if (code === "ERR_WORKER_OUT_OF_MEMORY")
      throw new GivenUp("It needs more memory than one file may take, and was given up.");
    throw error;
  }
}
