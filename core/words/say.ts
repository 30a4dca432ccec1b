/** Names as a sentence lists them: `A`, `A and B`, `A, B and C`. */
export function list(names: readonly string[]): string {
  return names.length < 2 ? names.join("") : `${names.slice(0, -1).join(", ")} and ${names.at(-1)}`;
}

/** A number of things: `one comment`, `3 comments`. */
export function counted(count: number, thing: string, things = `${thing}s`): string {
  return count === 1 ? `one ${thing}` : `${count} ${things}`;
}

/** Words as the beginning of a sentence. */
export const capital = (words: string) => words.slice(0, 1).toUpperCase() + words.slice(1);

/** A sentence's first letter, small: for a sentence within another. */
export const uncapital = (sentence: string) => sentence.slice(0, 1).toLowerCase() + sentence.slice(1);
