import { freeKey } from "../words/keys.ts";

/** How a thread was settled. */
export const SETTLEMENTS = ["changed", "left", "answered"] as const;
export type Settlement = (typeof SETTLEMENTS)[number];

/** An outcome as it stands on a settled thread, and on the button that settles. */
export const SETTLEMENT_WORDS: Record<Settlement, string> = {
  changed: "text changed",
  left: "left as it is",
  answered: "answered",
};

/** A sort of remark, as a team tells them apart. */
export interface RemarkKind {
  key: string;
  name: string;
}

/** What a new publication tells apart. */
export const READY_KINDS: readonly RemarkKind[] = [
  { key: "wording", name: "Wording" },
  { key: "fact", name: "Fact" },
  { key: "question", name: "Question" },
  { key: "praise", name: "Praise" },
];

/** So many sorts are told apart at most; more nobody chooses from. */
const KINDS_MOST = 12;

/**
 * Reads sorts of remarks from lines of a form, a name each. A name that was there keeps its key, so that
 * what was said under it stays found.
 *
 * @returns the sorts, or a sentence that says why they are none
 */
export function readKinds(lines: string, before: readonly RemarkKind[]): { kinds: RemarkKind[] } | { problem: string } {
  const names = lines
    .split("\n")
    .map((line) => line.trim())
    .filter(Boolean);
  if (names.length > KINDS_MOST) return { problem: `At most ${KINDS_MOST} sorts fit.` };
  const long = names.find((name) => name.length > 30);
  if (long) return { problem: `“${long}” is longer than 30 characters.` };
  const twice = names.find((name, i) => names.indexOf(name) < i);
  if (twice) return { problem: `“${twice}” stands there twice.` };
  const kinds: RemarkKind[] = [];
  for (const name of names)
    kinds.push(before.find((one) => one.name === name) ?? { key: freeKey(name, [...before, ...kinds], "sort"), name });
  return { kinds };
}

/** Remarks and replies hold so many characters at most. */
export const COMMENT_LIMIT = 4_000;

/** A name after an `@`, where it stands in somebody's words. */
export interface Mention {
  name: string;
  at: number;
}

/**
 * Finds who is mentioned: a name right after an `@` that no letter precedes; of names that begin alike the longest.
 *
 * @param names of everybody who could be meant
 */
export function mentionsIn(body: string, names: readonly string[]): Mention[] {
  const longest = [...new Set(names)].toSorted((a, b) => b.length - a.length);
  return [...body.matchAll(/(?<![\p{L}\p{N}])@/gu)].flatMap(({ index }) => {
    const rest = body.slice(index + 1);
    const name = longest.find((one) => rest.startsWith(one) && !/^[\p{L}\p{N}]/u.test(rest.slice(one.length)));
    return name ? [{ name, at: index }] : [];
  });
}
