/** A card that wants to stand at a height, in pixels from the top of the margin. */
export interface Card {
  id: string;
  wants: number;
  height: number;
}

/** Between two cards, in pixels. */
const GAP = 8;

/**
 * Puts cards beside their words, in the order of their words, none over another: the chosen one exactly
 * at its words, the others as near as those between leave room.
 *
 * @returns where each stands, and where the last one ends
 */
export function stack(cards: readonly Card[], chosen: string | null): { tops: Map<string, number>; end: number } {
  const inOrder = cards.toSorted((a, b) => a.wants - b.wants);
  const at = Math.max(
    0,
    inOrder.findIndex(({ id }) => id === chosen),
  );
  const tops = new Map<string, number>();
  let ceiling = inOrder[at]?.wants ?? 0;
  for (const card of inOrder.slice(0, at).toReversed()) {
    ceiling = Math.min(card.wants, ceiling - GAP - card.height);
    tops.set(card.id, ceiling);
  }
  // What would stand above the margin moves everything down.
  const down = Math.max(0, -ceiling);
  for (const [id, top] of tops) tops.set(id, top + down);
  let floor = 0;
  for (const card of inOrder) {
    const top = Math.max(tops.get(card.id) ?? card.wants, floor);
    tops.set(card.id, top);
    floor = top + card.height + GAP;
  }
  return { tops, end: floor };
}
