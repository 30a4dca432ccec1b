/** So many words of a text are looked at, and so many of all of them together, in runs of so many. */
const [LOOKED_AT, TOGETHER, RUN] = [3_000, 60_000, 5];
/** A run of words that stands in more texts than this is a formula, and says nothing. */
const FORMULA = 12;

/** A text that is compared with others. */
export interface Said {
  id: string;
  title: string;
  text: string;
}

/**
 * Which of several texts say the same: they have one title, or the shorter shares half of its runs of five words
 * with the longer. Broder, *On the resemblance and containment of documents* (1997), with words for shingles.
 *
 * Of many texts the beginnings alone are looked at, so that the work stays bounded however many there are.
 *
 * @returns pairs of ids, each once, in the order of the texts
 */
export function alike(texts: readonly Said[]): [string, string][] {
  const most = Math.min(LOOKED_AT, Math.floor(TOGETHER / Math.max(1, texts.length)));
  const runs = texts.map(({ text }) => runsOf(text, most));
  const holders = new Map<string, number[]>();
  for (const [i, some] of runs.entries()) {
    for (const run of some) {
      const known = holders.get(run);
      if (known) known.push(i);
      else holders.set(run, [i]);
    }
  }
  const shared = new Map<number, number>();
  for (const some of holders.values()) {
    if (some.length < 2 || some.length > FORMULA) continue;
    for (const [k, a] of some.entries())
      for (const b of some.slice(k + 1)) shared.set(pair(a, b), (shared.get(pair(a, b)) ?? 0) + 1);
  }
  const titles = texts.map(({ title }) => wordsOf(title).join(" "));
  const found: [string, string][] = [];
  for (const [a, one] of texts.entries())
    for (const [b, other] of texts.entries()) {
      if (b <= a) continue;
      const least = Math.min(runs[a]?.size ?? 0, runs[b]?.size ?? 0);
      const same = least > 0 && (shared.get(pair(a, b)) ?? 0) * 2 >= least;
      if (same || (titles[a] !== "" && titles[a] === titles[b])) found.push([one.id, other.id]);
    }
  return found;
}

const pair = (a: number, b: number) => a * 100_000 + b;

const wordsOf = (text: string): string[] => text.toLowerCase().match(/[\p{L}\p{N}]+/gu) ?? [];

function runsOf(text: string, most: number): Set<string> {
  const words = wordsOf(text).slice(0, most);
  return new Set(words.slice(RUN - 1).map((_, i) => words.slice(i, i + RUN).join(" ")));
}
