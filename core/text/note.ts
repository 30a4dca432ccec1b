/** Words of a note in a row that look the same. */
export interface NoteRun {
  words: string;
  emphasised: boolean;
}

/** What stands between two asterisks, close against them, as in CommonMark. */
const EMPHASIS = /\*(?![\s*])([^*]*[^*\s])\*/;

/**
 * A note is kept as one line of characters in which *what stands so* is emphasised. A lone asterisk is
 * an asterisk.
 *
 * @returns its words in the order they stand, the asterisks of emphasis left out
 */
export const noteRuns = (note: string): NoteRun[] =>
  note.split(EMPHASIS).flatMap((words, i) => (words === "" ? [] : [{ words, emphasised: i % 2 === 1 }]));

/** Words with emphasis on them, as a note keeps them; white space at their ends stays outside. */
export const emphasised = (words: string): string =>
  words.replace(/^(\s*)([^*]*?)(\s*)$/s, (whole, before, inner, after) =>
    inner === "" ? whole : `${before}*${inner}*${after}`,
  );
