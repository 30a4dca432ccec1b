import type { z } from "zod";
import type { Block } from "./block.ts";
import { type Content, isManuscript } from "./fields.ts";
import type { Manuscript } from "./manuscript.ts";
import type { patchSchema, spliceSchema } from "./patch-format.ts";

/** What changed of a manuscript. */
export type Splice = z.infer<typeof spliceSchema>;

/** What changed of a content. */
export type Patch = z.infer<typeof patchSchema>;

/** What turns one content into another; null when they are the same. */
export function patchBetween(before: Content, after: Content): Patch | null {
  const fields: Patch["fields"] = {};
  for (const key of new Set([...Object.keys(before.fields), ...Object.keys(after.fields)])) {
    const [was, now] = [before.fields[key], after.fields[key]];
    if (isSame(was, now)) continue;
    if (now === undefined) fields[key] = null;
    else fields[key] = isManuscript(was) && isManuscript(now) ? { splice: spliceBetween(was, now) } : { value: now };
  }
  const title = before.title === after.title ? {} : { title: after.title };
  return Object.keys(fields).length > 0 || "title" in title ? { ...title, fields } : null;
}

/**
 * Carries a patch out.
 *
 * @returns content yet to be read (`readContent`), since a patch may bring anything; null when the patch
 *   was taken from another text
 */
export function applyPatch(before: Content, patch: Patch): { title: string; fields: Record<string, unknown> } | null {
  const fields: Record<string, unknown> = { ...before.fields };
  for (const [key, change] of Object.entries(patch.fields)) {
    const was = before.fields[key];
    if (change === null) delete fields[key];
    else if ("value" in change) fields[key] = change.value;
    else {
      const spliced = isManuscript(was) ? applySplice(was, change.splice) : null;
      if (!spliced) return null;
      fields[key] = spliced;
    }
  }
  return { title: patch.title ?? before.title, fields };
}

/** What turns one manuscript into another. Blocks that are the same object are not looked into. */
export function spliceBetween(before: Manuscript, after: Manuscript): Splice {
  const [from, to] = [blocksOf(before), blocksOf(after)];
  const most = Math.min(from.length, to.length);
  let head = 0;
  while (head < most && isSame(from[head], to[head])) head += 1;
  let tail = 0;
  while (tail < most - head && isSame(from[from.length - 1 - tail], to[to.length - 1 - tail])) tail += 1;
  return { head, tail, blocks: to.slice(head, to.length - tail) };
}

/**
 * Carries a splice out.
 *
 * @returns null when the text is too short for it: it was taken from another
 */
export function applySplice(before: Manuscript, { head, tail, blocks }: Splice): Manuscript | null {
  const from = blocksOf(before);
  if (head < 0 || tail < 0 || head + tail > from.length) return null;
  return { ...before, content: [...from.slice(0, head), ...blocks, ...from.slice(from.length - tail)] };
}

const blocksOf = (manuscript: Manuscript): Block[] => (manuscript as Block).content ?? [];
const isSame = (one: unknown, other: unknown) => one === other || JSON.stringify(one) === JSON.stringify(other);
