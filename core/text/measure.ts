const words = new Intl.Segmenter("en", { granularity: "word" });
const characters = new Intl.Segmenter("en", { granularity: "grapheme" });

/** Words by Unicode segmentation (UAX #29); punctuation and spaces do not count. */
export function countWords(text: string): number {
  let count = 0;
  for (const segment of words.segment(text)) if (segment.isWordLike) count += 1;
  return count;
}

/** Characters as a reader sees them: a letter with its accents, or an emoji, is one. */
export function countCharacters(text: string): number {
  let count = 0;
  for (const _ of characters.segment(text)) count += 1;
  return count;
}
