import type { Refusal } from "#core/refusal.ts";

/** Why dates somebody chose cannot be kept: one that has passed already. */
export function refusePast(
  { dueAt, publishAt }: { dueAt: number | null; publishAt: number | null },
  now: number,
): Refusal | null {
  if (dueAt !== null && dueAt <= now)
    return { code: "past", field: "dueAt", sentence: "The due date lies in the past." };
  if (publishAt !== null && publishAt <= now)
    return { code: "past", field: "publishAt", sentence: "The publish date lies in the past." };
  return null;
}
