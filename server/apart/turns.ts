import PQueue from "p-queue";

/** So much of one person's work waits its turn at most; more is turned away. */
const WAITING = 4;

/** Work that was given up; its message is a sentence that says why. */
export class GivenUp extends Error {}

/** What a piece of work answers, or why it was given up, as a problem with what was brought. */
export async function orProblem<T>(work: Promise<T>): Promise<T | { problem: string }> {
  try {
    return await work;
  } catch (error) {
    if (error instanceof GivenUp) return { problem: error.message };
    throw error;
  }
}

const queues = new Map<string, PQueue>();

/**
 * Does one thing at a time for each person, so that who asks for ten does not keep out who asks for one.
 *
 * @param who for whom it is done: what else they asked for is done first
 * @throws GivenUp where too much of theirs waits already
 */
export async function inTurn<T>(who: string, work: () => Promise<T>): Promise<T> {
  const queue = queues.get(who) ?? new PQueue({ concurrency: 1 });
  if (queue.size >= WAITING)
    throw new GivenUp("Several things of yours are being worked on. Try again when they are done.");
  queues.set(who, queue);
  try {
    return await queue.add(work);
  } finally {
    if (queue.size + queue.pending === 0) queues.delete(who);
  }
}
