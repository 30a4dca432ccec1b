import { diffArrays } from "diff";
import type { Block } from "./block.ts";
import { segmentWords } from "./measure.ts";

/** Words in a row that stayed, went, came, or only changed their look. */
export type Run =
  | { kind: "kept" | "removed" | "added"; content: Block[] }
  | { kind: "restyled"; before: Block[]; after: Block[] };

/** Beyond so many edits two sequences count as having nothing in common: the search would cost more than it tells. */
export const MOST_EDITS = 1_000;

/** What must change in a line of words to make it another, word by word. */
export function compareRuns(before: readonly Block[], after: readonly Block[]): Run[] {
  const [from, to] = cut(before, after);
  const parts = diffArrays(keysOf(from), keysOf(to), { maxEditLength: MOST_EDITS }) ?? [
    { value: from, removed: true },
    { value: to, added: true },
  ];
  const runs: { kind: "kept" | "changed"; gone: Block[]; come: Block[] }[] = [];
  let [a, b] = [0, 0];
  for (const part of parts) {
    const count = part.value.length;
    const gone = part.added ? [] : from.slice(a, a + count);
    const come = part.removed ? [] : to.slice(b, b + count);
    a += gone.length;
    b += come.length;
    const last = runs.at(-1);
    const changed = part.added || part.removed;
    // A lone space between two changes belongs to them: else every word of a new phrase stands alone.
    const bridges = !changed && last?.kind === "changed" && part !== parts.at(-1) && textsOf(gone).trim() === "";
    if (last && (bridges || (changed && last.kind === "changed"))) {
      // A text of hundreds of thousands of words is more than a call takes at once.
      last.gone = last.gone.concat(gone);
      last.come = last.come.concat(come);
    } else runs.push({ kind: changed ? "changed" : "kept", gone, come });
  }
  return runs.flatMap(({ kind, gone, come }): Run[] => {
    if (kind === "kept") return [{ kind, content: joined(gone) }];
    if (gone.length > 0 && isRestyled(gone, come))
      return [{ kind: "restyled", before: joined(gone), after: joined(come) }];
    return [
      ...(gone.length > 0 ? [{ kind: "removed" as const, content: joined(gone) }] : []),
      ...(come.length > 0 ? [{ kind: "added" as const, content: joined(come) }] : []),
    ];
  });
}

const textsOf = (blocks: readonly Block[]) =>
  blocks.map((block) => (block.type === "text" ? block.text : `\ufffc${JSON.stringify(block)}`)).join("");
const isRestyled = (gone: readonly Block[], come: readonly Block[]) => textsOf(gone) === textsOf(come);

/** The words of a run in the old line or the new. */
export const runSide = (run: Run, of: "before" | "after"): Block[] => {
  if (run.kind === "restyled") return run[of];
  return run.kind === "kept" || (run.kind === "removed") === (of === "before") ? run.content : [];
};

/** A string for each token, equal where the tokens are. */
function keysOf(all: readonly Block[]): string[] {
  const looks = new Map<Block["marks"], string>();
  return all.map(({ text, marks, ...node }) => {
    if (text === undefined) return JSON.stringify(node);
    let look = looks.get(marks);
    if (look === undefined) {
      look = marks ? JSON.stringify(marks) : "";
      looks.set(marks, look);
    }
    return `${look} ${text}`;
  });
}

/**
 * Two lines cut into words, spaces and signs, each with its marks. What both begin and end with is
 * one token each: most edits touch a few words of a paragraph, and cutting is what takes time.
 */
function cut(before: readonly Block[], after: readonly Block[]): [Block[], Block[]] {
  const [from, to] = [before[0], after[0]];
  const lone = before.length === 1 && after.length === 1 && JSON.stringify(from?.marks) === JSON.stringify(to?.marks);
  if (!lone || !from?.text || !to?.text) return [tokens(before), tokens(after)];
  const [a, b] = [from.text, to.text];
  const most = Math.min(a.length, b.length);
  let head = 0;
  while (head < most && a[head] === b[head]) head += 1;
  head = a.slice(0, head).search(/\s\S*$/) + 1;
  let tail = 0;
  while (tail < most - head && a[a.length - 1 - tail] === b[b.length - 1 - tail]) tail += 1;
  const space = a.slice(a.length - tail).search(/\s/);
  tail = space < 0 ? 0 : tail - space;
  const piece = (text: string) => (text ? [{ ...from, text }] : []);
  return [a, b].map((text) => [
    ...piece(text.slice(0, head)),
    ...tokens(piece(text.slice(head, text.length - tail))),
    ...piece(text.slice(text.length - tail)),
  ]) as [Block[], Block[]];
}

const tokens = (inline: readonly Block[]): Block[] =>
  inline.flatMap((node) =>
    node.type === "text"
      ? Array.from(segmentWords(node.text ?? ""), ({ segment }) => ({ ...node, text: segment }))
      : [node],
  );

/** Words of the same look in a row as one, as a manuscript holds them. */
export function joined(all: readonly Block[]): Block[] {
  const out: Block[] = [];
  for (const node of all) {
    const last = out.at(-1);
    if (last?.type === "text" && node.type === "text" && JSON.stringify(last.marks) === JSON.stringify(node.marks))
      out[out.length - 1] = { ...last, text: `${last.text}${node.text}` };
    else out.push(node);
  }
  return out;
}
