import { type Block, isTextBlock } from "./block.ts";
import { textOf } from "./plain.ts";

const words = new Intl.Segmenter("en", { granularity: "word" });
const characters = new Intl.Segmenter("en", { granularity: "grapheme" });

/** The segmenter's time grows with the square of a string's length: it is given so many characters at once. */
const AT_ONCE = 400;
/** So long a run without white space is no word any more, and is cut. */
const WORD_MOST = 1_000;

/** A text cut into words, spaces and signs by Unicode segmentation (UAX #29). */
export function* segmentWords(text: string): Generator<{ segment: string; isWordLike: boolean }> {
  for (const piece of pieces(text))
    for (const { segment, isWordLike = false } of words.segment(piece)) yield { segment, isWordLike };
}

/**
 * Words by Unicode segmentation; punctuation and spaces do not count. A full stop between letters
 * parts two words: there releases of the Unicode data differ, and browser and server must count alike.
 */
export function countWords(text: string): number {
  let count = 0;
  for (const { isWordLike } of segmentWords(text.replace(/(?<=\p{L})\.(?=\p{L})/gu, ". "))) if (isWordLike) count += 1;
  return count;
}

/** Words of a manuscript. Blocks are counted once as long as they are the same objects: an editor keeps what it does not touch. */
export function countManuscript(manuscript: Block): number {
  const known = counted.get(manuscript);
  if (known !== undefined) return known;
  const count = isTextBlock(manuscript)
    ? countWords(textOf(manuscript))
    : (manuscript.content ?? []).reduce((sum, block) => sum + countManuscript(block), 0);
  counted.set(manuscript, count);
  return count;
}

const counted = new WeakMap<Block, number>();

/** Characters as a reader sees them: a letter with its accents, or an emoji, is one. */
export function countCharacters(text: string): number {
  let count = 0;
  for (const piece of pieces(text)) for (const _ of characters.segment(piece)) count += 1;
  return count;
}

/** A text in pieces that end before white space, where neither a word nor a character goes on; in linear time. */
function* pieces(text: string): Generator<string> {
  const space = /\s/g;
  for (let from = 0, next = -1; from < text.length; ) {
    if (next < from + AT_ONCE) {
      space.lastIndex = from + AT_ONCE;
      next = space.exec(text)?.index ?? text.length;
    }
    const most = from + WORD_MOST;
    const end = next <= most ? next : most + (isLowSurrogate(text, most) ? 1 : 0);
    yield text.slice(from, end);
    from = end;
  }
}

const isLowSurrogate = (text: string, at: number) => /[\udc00-\udfff]/.test(text.charAt(at));
