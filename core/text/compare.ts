import type { Block } from "./block.ts";
import { type Change, compareManuscripts, countChanged } from "./diff.ts";
import { type Content, type Field, isManuscript, type Picture, type Value } from "./fields.ts";
import { countWords } from "./measure.ts";
import { compareRuns, type Run } from "./runs.ts";

/** What became of the title or one field between two versions. */
export interface FieldComparison {
  key: string;
  name: string;
  change: { kind: "same" } | { kind: "words"; runs: Run[] } | { kind: "blocks"; changes: Change[] };
}

/** Compares two contents field by field: manuscripts by their structure, everything else as a line of words. */
export function compareContents(fields: readonly Field[], before: Content, after: Content): FieldComparison[] {
  const compared = (key: string, name: string, was: Value | undefined, now: Value | undefined): FieldComparison => {
    if (JSON.stringify(was) === JSON.stringify(now)) return { key, name, change: { kind: "same" } };
    const blocks = [was, now].some(isManuscript);
    const [from, to] = [was, now].map((value) => (isManuscript(value) ? value : { type: "doc", content: [] }));
    return {
      key,
      name,
      change:
        blocks && from && to
          ? { kind: "blocks", changes: compareManuscripts(from, to) }
          : { kind: "words", runs: compareRuns(line(was), line(now)) },
    };
  };
  return [
    compared("title", "Title", before.title, after.title),
    ...fields.map(({ key, name }) => compared(key, name, before.fields[key], after.fields[key])),
  ];
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

function line(value: Value | undefined): Block[] {
  const words = typeof value === "object" ? pictureWords(value as Picture) : String(value ?? "");
  return words === "" ? [] : [{ type: "text", text: words }];
}

const pictureWords = ({ file, alt, caption, credit }: Picture) =>
  [`picture ${file.slice(0, 8)}`, alt, caption, credit].filter(Boolean).join(", ");
