import type { Row } from "./measure.ts";

/** A figure with its unit: milliseconds, seconds or kilobytes. */
const FIGURE = /([\d.,]+) (ms|s|KB)\b/g;
const CLAUSE = /^([≤≥]) ([\d.]+)(?: (ms|s|KB))?$/;
const SIZE: Record<string, number> = { ms: 1, s: 1_000, KB: 1 };
const DIMENSION: Record<string, string> = { ms: "time", s: "time", KB: "size" };

/**
 * The clauses of a row's aim that it misses. An aim is empty, or clauses joined by "and": one without
 * a unit is asked of the ratio, one with a unit of the largest such figure among what was measured.
 *
 * @throws Error where an aim cannot be read, or names a unit of which nothing was measured
 */
export function missed({ what, measured, ratio, aim }: Row): string[] {
  return aim === "" ? [] : aim.split(" and ").filter((clause) => !holds(clause));

  function holds(clause: string): boolean {
    const [, sign, bound, unit] = CLAUSE.exec(clause) ?? [];
    if (bound === undefined) throw new Error(`the aim of "${what}" cannot be read: ${clause}`);
    const value = unit === undefined ? ratio : largest(unit);
    const wanted = Number(bound) * (SIZE[unit ?? ""] ?? 1);
    return sign === "≤" ? value <= wanted : value >= wanted;
  }

  function largest(unit: string): number {
    const figures = [...measured.matchAll(FIGURE)]
      .filter(([, , of]) => DIMENSION[of as string] === DIMENSION[unit])
      .map(([, number, of]) => Number(number?.replaceAll(",", "")) * (SIZE[of as string] ?? 1));
    if (figures.length === 0) throw new Error(`"${what}" measured nothing in ${unit}: ${measured}`);
    return Math.max(...figures);
  }
}
