import type { Checks } from "#core/release/edition.ts";
import { counted } from "#core/words/say.ts";

/** A piece of an edition as far as its situation depends on it. */
interface Item {
  pieceId: string;
  words: number;
}

/** How an edition stands, in one sentence: what is ready, what comes too late, and what it would hold without that. */
export function sayStanding(
  { ready, missing, late, length }: Checks,
  items: readonly Item[],
): { ready: string; late: string | null; rest: string } {
  const { unit, all, target } = length;
  const thing = unit === "words" ? "word" : "piece";
  const held = (amount: number) =>
    target === null ? `it has ${counted(amount, thing)}` : `it has ${amount} of ${target} ${thing}s`;
  if (items.length === 0) return { ready: "Nothing is in it yet.", late: null, rest: "" };
  const said =
    missing.length === 0
      ? items.length === 1
        ? "What is in it is ready."
        : `All ${items.length} are ready.`
      : ready.length === 0
        ? `None of ${items.length} is ready.`
        : `${ready.length} of ${items.length} ${ready.length === 1 ? "is" : "are"} ready.`;
  if (late.length === 0) return { ready: said, late: null, rest: `Together ${held(all)}.` };
  const lost = items
    .filter((item) => late.includes(item.pieceId))
    .reduce((sum, item) => sum + (unit === "words" ? item.words : 1), 0);
  return {
    ready: said,
    late: late.length === 1 ? "One comes too late" : `${late.length} come too late`,
    rest: `; without ${late.length === 1 ? "it" : "them"} ${held(all - lost)}.`,
  };
}
