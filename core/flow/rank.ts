/**
 * The nearest rank: the smallest of some values that at least a share of them does not exceed.
 *
 * @param sorted the least first
 * @param share above nothing, at most one
 * @returns null of no values
 */
export function nearestRank(sorted: ArrayLike<number>, share: number): number | null {
  if (sorted.length === 0) return null;
  return sorted[Math.max(1, Math.ceil(share * sorted.length - 1e-9)) - 1] ?? null;
}

/** A share or an average to three decimals. */
export const toThree = (value: number): number => Math.round(value * 1_000) / 1_000;
