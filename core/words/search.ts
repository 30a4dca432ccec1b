/** Words the index leaves out (InnoDB's own list): asking for them would find nothing. */
const LEFT_OUT = new Set(
  "a about an are as at be by com de en for from how i in is it la of on or that the this to was what when where who will with und www".split(
    " ",
  ),
);
/** Shorter words are not in the index. */
const SHORTEST = 3;
const MOST = 8;

/** The words of a search that the index knows, in the order they were typed; each may be the beginning of one. */
export function termsOf(asked: string): string[] {
  const words = asked.toLowerCase().match(/[\p{L}\p{M}\p{N}]+/gu) ?? [];
  return [...new Set(words)].filter((word) => word.length >= SHORTEST && !LEFT_OUT.has(word)).slice(0, MOST);
}

/** A stretch of a sentence, and whether it is what was looked for. */
export interface Stretch {
  words: string;
  found: boolean;
}

/** So much of a sentence is shown on either side of what was found, in characters. */
const AROUND = 70;

/**
 * The place in a text where a search's words first stand, within its sentence or a part of it.
 *
 * @param text plain words
 * @param terms as of `termsOf`; each finds words it begins
 * @returns the stretches in order, or none where no word of the text begins so
 */
export function excerpt(text: string, terms: readonly string[]): Stretch[] {
  const first = find(text, terms, 0);
  if (!first) return [];
  const from = Math.max(start(text, first.at), first.at - AROUND);
  const until = Math.min(end(text, first.at), first.at + first.length + AROUND);
  const stretches: Stretch[] = [];
  let at = from;
  for (let hit = find(text, terms, from); hit && hit.at < until; hit = find(text, terms, at)) {
    if (hit.at > at) stretches.push({ words: text.slice(at, hit.at), found: false });
    stretches.push({ words: text.slice(hit.at, hit.at + hit.length), found: true });
    at = hit.at + hit.length;
  }
  if (at < until) stretches.push({ words: text.slice(at, until), found: false });
  if (from > start(text, first.at)) stretches.unshift({ words: "… ", found: false });
  if (until < end(text, first.at)) stretches.push({ words: " …", found: false });
  return stretches;
}

const WORD = /[\p{L}\p{M}\p{N}]+/gu;

/** The first word behind a place that one of the terms begins, without regard for accents. */
function find(text: string, terms: readonly string[], from: number): { at: number; length: number } | null {
  WORD.lastIndex = from;
  const plain = terms.map(bare);
  for (let word = WORD.exec(text); word; word = WORD.exec(text)) {
    const here = bare(word[0]);
    if (plain.some((term) => here.startsWith(term))) return { at: word.index, length: word[0].length };
  }
  return null;
}

/** As the database compares: without case and accents. */
const bare = (word: string) => word.normalize("NFD").replace(/\p{M}/gu, "").toLowerCase();

const ENDS = /[.!?]\s|\n/g;

function start(text: string, at: number): number {
  let from = 0;
  ENDS.lastIndex = Math.max(0, at - 4 * AROUND);
  for (let stop = ENDS.exec(text); stop && stop.index < at; stop = ENDS.exec(text)) from = ENDS.lastIndex;
  return from > 0 ? from : Math.max(0, at - 4 * AROUND);
}

function end(text: string, at: number): number {
  ENDS.lastIndex = at;
  const stop = ENDS.exec(text);
  return stop ? stop.index + (stop[0] === "\n" ? 0 : 1) : text.length;
}
