import type { Result } from "#core/refusal.ts";

/** What a command of the demo gave. @throws where it was refused: the demo asks for nothing it may not do */
export function done<T>(result: Result<T>): T {
  if (!result.ok) throw new Error(result.refusal.sentence);
  return result.value;
}
