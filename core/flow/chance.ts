/** Gives a whole number evenly from nothing up to `below`, which is at most 2^20. */
export type Chance = (below: number) => number;

/**
 * Numbers that look like chance and follow from a seed: the same on any machine (PCG-like mixing of a counter, after
 * M. E. O'Neill, "PCG: A Family of Simple Fast Space-Efficient Statistically Good Algorithms for Random Number
 * Generation", 2014, in 32-bit arithmetic).
 */
export function chance(seed: number): Chance {
  let state = (seed ^ 0x9e3779b9) >>> 0;
  return (below) => {
    state = (Math.imul(state, 747796405) + 2891336453) >>> 0;
    const word = Math.imul(((state >>> ((state >>> 28) + 4)) ^ state) >>> 0, 277803737) >>> 0;
    const mixed = ((word >>> 22) ^ word) >>> 0;
    return Math.floor((mixed / 4_294_967_296) * below);
  };
}
