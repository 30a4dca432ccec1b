import type { Block } from "./block.ts";
import { textOf } from "./plain.ts";

/** A block of an old text and the block of a new one that it became, by their places. */
export interface Pairing {
  from: number;
  to: number;
}

/** From so much alike on, one block is the other with changes; a move asks for more. */
const SAME_BLOCK = 0.4;
const SAME_MOVED = 0.6;
/** A block of fewer words than this is like too many others to be recognised elsewhere. */
const FEWEST_WORDS = 4;
/** So many comparisons at most; a larger gap is a text written anew. */
const MOST_COMPARED = 250_000;

/**
 * Pairs blocks that went with blocks that came, in order, so that together they are as alike as can
 * be: the best common sequence by weights, in time and space of |gone| × |come|.
 */
export function pair(
  gone: readonly number[],
  come: readonly number[],
  before: readonly Block[],
  after: readonly Block[],
): Pairing[] {
  const width = come.length + 1;
  if (gone.length * come.length === 0 || gone.length * come.length > MOST_COMPARED) return [];
  const likeness = comparing(gone, come, before, after, SAME_BLOCK);
  const best = new Float64Array((gone.length + 1) * width);
  for (let i = gone.length - 1; i >= 0; i--) {
    for (let j = come.length - 1; j >= 0; j--) {
      const like = likeness(i, j);
      const both = like > 0 ? like + (best[(i + 1) * width + j + 1] as number) : 0;
      best[i * width + j] = Math.max(both, best[(i + 1) * width + j] as number, best[i * width + j + 1] as number);
    }
  }
  const pairs: Pairing[] = [];
  for (let i = 0, j = 0; i < gone.length && j < come.length; ) {
    const here = best[i * width + j] as number;
    if (here === best[(i + 1) * width + j]) i += 1;
    else if (here === best[i * width + j + 1]) j += 1;
    else pairs.push({ from: gone[i++] as number, to: come[j++] as number });
  }
  return pairs;
}

/** Pairs blocks that went in one place with blocks that came in another and say nearly the same, the most alike first. */
export function alike(
  gone: readonly number[],
  come: readonly number[],
  before: readonly Block[],
  after: readonly Block[],
): Pairing[] {
  if (gone.length * come.length > MOST_COMPARED) return [];
  const likeness = comparing(gone, come, before, after, SAME_MOVED);
  const found: (Pairing & { like: number })[] = [];
  for (const [i, from] of gone.entries()) {
    if (words(before[from] as Block).total < FEWEST_WORDS) continue;
    for (const [j, to] of come.entries()) {
      const like = likeness(i, j);
      if (like > 0) found.push({ from, to, like });
    }
  }
  found.sort((one, other) => other.like - one.like || one.to - other.to);
  const [used, taken] = [new Set<number>(), new Set<number>()];
  return found.filter(({ from, to }) => {
    if (used.has(from) || taken.has(to)) return false;
    used.add(from);
    taken.add(to);
    return true;
  });
}

/** What a block can turn into: words of any level, a list of either sort, a cell of either sort; else its own type. */
export function family({ type, attrs }: Block): string {
  if (type === "paragraph" || type === "heading") return "words";
  if (type === "bulletList" || type === "orderedList") return "list";
  if (type === "tableCell" || type === "tableHeader") return "cell";
  return type === "image" ? `image ${attrs?.file}` : type;
}

/** How alike two blocks are, by their places in the lists: from `least` to 1, or 0. */
function comparing(
  gone: readonly number[],
  come: readonly number[],
  before: readonly Block[],
  after: readonly Block[],
  least: number,
): (i: number, j: number) => number {
  const bags = (places: readonly number[], blocks: readonly Block[]) =>
    places.map((at) => ({ family: family(blocks[at] as Block), ...words(blocks[at] as Block) }));
  const [from, to] = [bags(gone, before), bags(come, after)];
  return (i, j) => {
    const [a, b] = [from[i] as (typeof from)[number], to[j] as (typeof to)[number]];
    if (a.family !== b.family) return 0;
    if (a.total + b.total === 0) return a.family.startsWith("image") ? 1 : 0;
    if ((2 * Math.min(a.total, b.total)) / (a.total + b.total) < least) return 0;
    let common = 0;
    for (const [word, count] of a.counts) common += Math.min(count, b.counts.get(word) ?? 0);
    // Dice 1945: twice what is common over what there is.
    const like = (2 * common) / (a.total + b.total);
    return like >= least ? like : 0;
  };
}

function words(block: Block): { total: number; counts: Map<string, number> } {
  const counts = new Map<string, number>();
  let total = 0;
  for (const [word] of textOf(block)
    .toLowerCase()
    .matchAll(/[\p{L}\p{N}]+/gu)) {
    counts.set(word, (counts.get(word) ?? 0) + 1);
    total += 1;
  }
  return { total, counts };
}
