import type { Member } from "./principals.ts";

/** Somebody who may be away, and who stands in for them then. */
export interface Replaceable extends Member {
  standInId: string | null;
}

/**
 * Who acts for an absent person: whoever stands in, followed through stand-ins who are away too,
 * never in a circle, past everybody barred.
 *
 * @param barred ids of people who may not act here: the author, those who sit already
 * @returns null where nobody stands in
 */
export function standInFor<P extends Replaceable>(
  absent: P,
  people: readonly P[],
  barred: (id: string) => boolean,
): P | null {
  const met = new Set([absent.id]);
  const known = (id: string | null) => people.find((one) => one.id === id);
  for (let next = known(absent.standInId); next?.active && !met.has(next.id); next = known(next.standInId)) {
    if (!next.away && !barred(next.id)) return next;
    met.add(next.id);
  }
  return null;
}
