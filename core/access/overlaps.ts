import type { Grant, Scope } from "./decide.ts";

/** Two grants of one person of which the one adds nothing to the other while both are in force. */
export interface Overlap {
  /** The grant that adds nothing. */
  idle: string;
  /** The one that covers it. */
  by: string;
}

/**
 * Which of a person's grants add nothing: another gives the same role over the same time, the same
 * publish dates and at least the same pieces. Of two that cover each other the later in the
 * list is idle.
 *
 * @param above the sections above a section and itself
 */
export function overlaps(grants: readonly Grant[], above: (sectionId: string) => readonly string[]): Overlap[] {
  return grants.flatMap((grant, i) => {
    const by = grants.find(
      (other, j) => other.id !== grant.id && takesIn(other, grant, above) && (j < i || !takesIn(grant, other, above)),
    );
    return by ? [{ idle: grant.id, by: by.id }] : [];
  });
}

function takesIn(wide: Grant, narrow: Grant, above: (sectionId: string) => readonly string[]): boolean {
  return (
    wide.roleKey === narrow.roleKey &&
    spans(wide.from, wide.until, narrow.from, narrow.until) &&
    spans(wide.publishFrom, wide.publishUntil, narrow.publishFrom, narrow.publishUntil) &&
    scopeTakesIn(wide.scope, narrow.scope, above)
  );
}

/** Whether one period holds another; null is open. */
function spans(from: number | null, until: number | null, start: number | null, end: number | null): boolean {
  return (from ?? -Infinity) <= (start ?? -Infinity) && (end ?? Infinity) <= (until ?? Infinity);
}

function scopeTakesIn(wide: Scope, narrow: Scope, above: (sectionId: string) => readonly string[]): boolean {
  if (wide.kind === "publication") return true;
  if (narrow.kind === "publication" || wide.kind !== narrow.kind) return false;
  return wide.kind === "section" ? above(narrow.id).includes(wide.id) : wide.id === narrow.id;
}
