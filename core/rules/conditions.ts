import type { Condition } from "./document.ts";

/** What a field or a fact holds; absent or empty is nothing. */
export type Value = string | number | null | undefined;

const isNothing = (value: Value): boolean => value === null || value === undefined || value === "";

/** Two values are the same as they are written: a form knows no numbers. */
const same = (a: Value, b: Value): boolean => String(a) === String(b);

/** Whether a condition holds for a value. */
export function holds(condition: Condition, value: Value): boolean {
  const { is, over, under } = condition;
  if (condition.empty) return isNothing(value);
  if (condition.filled) return !isNothing(value);
  if (is !== undefined) return isNothing(is) ? isNothing(value) : same(value, is);
  if (condition["is-not"] !== undefined)
    return !holds({ ...condition, is: condition["is-not"], "is-not": undefined }, value);
  const number = isNothing(value) ? Number.NaN : Number(value);
  return over === undefined ? number < (under as number) : number > over;
}

/** What a condition is about: `fact words`, `field season`. */
export const subjectOf = ({ fact, field }: Condition): string => (fact ? `fact ${fact}` : `field ${field}`);

/** Whether conditions on one subject cannot hold together, whatever it is. Of words only whole numbers come. */
export function contradict(conditions: readonly Condition[]): boolean {
  const [first] = conditions;
  if (!first) return false;
  const whole = first.fact === "words";
  return !candidates(conditions, whole).some((value) => conditions.every((condition) => holds(condition, value)));
}

/**
 * Values such that, if any at all holds under the conditions, one of these does: nothing, each that is named,
 * those just beside each bound, and one that nobody speaks of.
 */
function candidates(conditions: readonly Condition[], whole: boolean): Value[] {
  const named = conditions.flatMap(({ is, "is-not": not }) => [is, not].filter((one) => one !== undefined));
  const bounds = conditions.flatMap(({ over, under }) => [over, under].filter((one) => one !== undefined));
  if (whole) {
    const numbers = [...named.map(Number).filter(Number.isInteger), ...bounds.map(Math.floor), 0];
    const reach = conditions.length + 1;
    return numbers
      .flatMap((one) => Array.from({ length: 2 * reach + 1 }, (_, i) => one - reach + i))
      .filter((one) => one >= 0);
  }
  // More than there are values that could be excluded, in each stretch between two bounds and beyond the last.
  const edges = [...bounds].sort((a, b) => a - b);
  const ends = edges.length === 0 ? [] : [(edges[0] as number) - 1, ...edges, (edges.at(-1) as number) + 1];
  const steps = conditions.length + 2;
  const between = ends.flatMap((from, i) => {
    const to = ends[i + 1] ?? from + 1;
    return Array.from({ length: steps }, (_, step) => from + ((to - from) * step) / steps);
  });
  return [undefined, ...named, ...between, `${named.join("")}?`];
}
