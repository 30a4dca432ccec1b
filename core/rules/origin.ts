/** What rules do is written from here: the number of the entry their chain began with stands in it. */
export const originOf = (chain: number, key: string): string => `rule ${chain} ${key}`.slice(0, 80);

const FROM_RULE = /^rule (\d+) /;

/** The number of the entry a chain of rules began with, where something was written by one; else null. */
export function chainOf(origin: string): number | null {
  const found = FROM_RULE.exec(origin);
  return found ? Number(found[1]) : null;
}
