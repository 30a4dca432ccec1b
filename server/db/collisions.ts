import { setTimeout as pause } from "node:timers/promises";
import { errorNumber } from "./client.ts";

/** Lock wait, deadlock, and a record changed since it was read (as a cluster reports a failed certification). */
const COLLISIONS = new Set([1205, 1213, 1020]);
const TRIES = 8;

/**
 * Does again, a little later each time, what a lock or a cluster turned away.
 *
 * @param work a statement or a transaction: nothing is left of it where it was turned away
 * @param collided whether another of MariaDB's error numbers says so too
 * @throws what it failed with otherwise, or the last time
 */
export async function pastCollisions<T>(work: () => Promise<T>, collided?: (number: number) => boolean): Promise<T> {
  for (let attempt = 1; ; attempt++) {
    try {
      return await work();
    } catch (error) {
      const number = errorNumber(error);
      if (attempt === TRIES || !(COLLISIONS.has(number) || collided?.(number))) throw error;
      await pause(attempt * 5 + Math.random() * 20 * attempt);
    }
  }
}
