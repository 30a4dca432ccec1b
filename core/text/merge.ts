import { diff3Merge } from "node-diff3";
import type { Block } from "./block.ts";
import type { Content, Value } from "./fields.ts";
import type { Manuscript } from "./manuscript.ts";

/** Two texts that grew from one, brought together; or where both changed the same place. */
export interface Merged {
  /** With mine in every place both changed. */
  content: Content;
  /** The keys of the fields in which both changed the same place, `title` among them. */
  conflicts: string[];
}

/**
 * Merges two contents that grew from one (a three-way merge, Khanna, Kunal & Pierce 2007, by
 * `node-diff3`): manuscripts block by block, everything else field by field.
 */
export function mergeContents(base: Content, mine: Content, theirs: Content): Merged {
  const conflicts: string[] = [];
  const one = <T>(key: string, was: T, my: T, their: T, both: () => T | null): T => {
    if (isSame(my, their) || isSame(their, was)) return my;
    if (isSame(my, was)) return their;
    const merged = both();
    if (merged === null) conflicts.push(key);
    return merged ?? my;
  };
  const title = one("title", base.title, mine.title, theirs.title, () => null);
  const fields: Record<string, Value> = {};
  for (const key of new Set([...Object.keys(mine.fields), ...Object.keys(theirs.fields)])) {
    const [was, my, their] = [base, mine, theirs].map((content) => content.fields[key]);
    const value = one(key, was, my, their, () => mergeManuscripts(was, my, their));
    if (value !== undefined) fields[key] = value;
  }
  return { content: { title, fields }, conflicts };
}

/** Null where the three are no manuscripts, or where two changed the same blocks. */
function mergeManuscripts(was: Value | undefined, my: Value | undefined, their: Value | undefined): Manuscript | null {
  const written = [my, was, their].map((value) => {
    const { content } = (typeof value === "object" ? value : {}) as Block;
    return content?.map((block) => JSON.stringify(block)) ?? null;
  });
  const [mine, base, theirs] = written;
  if (!mine || !base || !theirs) return null;
  const blocks = diff3Merge(mine, base, theirs, { excludeFalseConflicts: true }).flatMap(
    ({ ok, conflict }) => ok ?? (conflict ? neighbours(conflict) : null) ?? [null],
  );
  if (blocks.includes(null)) return null;
  return { type: "doc", content: blocks.map((block) => JSON.parse(block as string)) };
}

/**
 * Changes side by side count as one place to a three-way merge. Where nobody added or removed a
 * block there, each block is looked at by itself.
 */
function neighbours({ a, o, b }: { a: string[]; o: string[]; b: string[] }): string[] | null {
  if (a.length !== o.length || b.length !== o.length) return null;
  const merged = o.map((was, i) => (a[i] === was ? b[i] : b[i] === was || a[i] === b[i] ? a[i] : null));
  return merged.every((block) => typeof block === "string") ? merged : null;
}

const isSame = (one: unknown, other: unknown) => JSON.stringify(one) === JSON.stringify(other);
