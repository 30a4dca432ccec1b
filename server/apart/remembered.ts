import { createHash } from "node:crypto";
import { LRUCache } from "lru-cache";

/** An answer is good for so long, in milliseconds; and so many are kept. */
const [GOOD, KEPT] = [5 * 60_000, 40];
const answers = new LRUCache<string, { answer: unknown }>({ max: KEPT, ttl: GOOD });

/**
 * The answer to a question that was computed for it within the same few minutes; computed where there is none. A page
 * that is asked for anew since a word was saved somewhere asks nothing new.
 *
 * @param question what the answer follows from beside the time
 * @param now epoch milliseconds
 */
export async function remembered<T>(question: unknown, now: number, compute: () => Promise<T>): Promise<T> {
  const asked = JSON.stringify([Math.floor(now / GOOD), question]);
  const key = createHash("sha256").update(asked).digest("base64");
  const known = answers.get(key);
  if (known) return known.answer as T;
  const answer = await compute();
  answers.set(key, { answer });
  return answer;
}
