import type { Block } from "./block.ts";
import { type Change, compareManuscripts, countChanged } from "./diff.ts";
import type { Field } from "./field.ts";
import { type Content, isManuscript, type Value } from "./fields.ts";
import type { Manuscript } from "./manuscript.ts";
import { countWords } from "./measure.ts";
import { compareRuns, type Run } from "./runs.ts";
import { type Names, sayValue } from "./values.ts";

/** What became of the title or one field between two versions. */
export interface FieldComparison {
  key: string;
  name: string;
  change: { kind: "same" } | { kind: "words"; runs: Run[] } | { kind: "blocks"; changes: Change[] };
}

/**
 * Compares two contents field by field: manuscripts and pictures by their structure, everything else
 * as a line of words.
 *
 * @param names of pieces and files that fields hold by their id
 */
export function compareContents(
  fields: readonly Field[],
  before: Content,
  after: Content,
  names: Names = {},
): FieldComparison[] {
  const compared = (field: Field): FieldComparison => {
    const { key, name } = field;
    const [was, now] = [before.fields[key], after.fields[key]];
    if (JSON.stringify(was) === JSON.stringify(now)) return { key, name, change: { kind: "same" } };
    if ([was, now].some((value) => typeof value === "object"))
      return { key, name, change: { kind: "blocks", changes: compareManuscripts(asBlocks(was), asBlocks(now)) } };
    const runs = compareRuns(line(sayValue(field, before, names)), line(sayValue(field, after, names)));
    return { key, name, change: { kind: "words", runs } };
  };
  const runs = compareRuns(line(before.title), line(after.title));
  const title: FieldComparison["change"] = before.title === after.title ? { kind: "same" } : { kind: "words", runs };
  return [{ key: "title", name: "Title", change: title }, ...fields.map(compared)];
}

/** How many words came and went between two versions, moved ones not counted. */
export function wordsChanged(compared: readonly FieldComparison[]): { added: number; removed: number } {
  const shell = { type: "paragraph" };
  const changes = compared.flatMap(({ change }): Change[] => {
    if (change.kind === "blocks") return change.changes;
    return change.kind === "words" ? [{ kind: "reworded", before: shell, after: shell, runs: change.runs }] : [];
  });
  return countChanged(changes, countWords);
}

const line = (words: string): Block[] => (words === "" ? [] : [{ type: "text", text: words }]);

/** A value as a document: a picture is one of a single block. */
function asBlocks(value: Value | undefined): Manuscript {
  if (isManuscript(value)) return value;
  return { type: "doc", content: typeof value === "object" ? [{ type: "image", attrs: value }] : [] };
}
