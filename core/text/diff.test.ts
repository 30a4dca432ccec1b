import fc from "fast-check";
import type { Block } from "./block.ts";
import { applyChanges, type Change, compareManuscripts, countChanged } from "./diff.ts";
import type { Manuscript } from "./manuscript.ts";
import { countWords } from "./measure.ts";
import { compareRuns } from "./runs.ts";
import { anyManuscript } from "./samples.ts";

const t = (text: string, ...marks: string[]): Block => ({
  type: "text",
  text,
  ...(marks.length ? { marks: marks.map((type) => ({ type })) } : {}),
});
const p = (...content: (string | Block)[]): Block => ({
  type: "paragraph",
  content: content.map((one) => (typeof one === "string" ? t(one) : one)),
});
const doc = (...content: Block[]): Manuscript => ({ type: "doc", content });
const cell = (text: string): Block => ({ type: "tableCell", attrs: { colspan: 1, rowspan: 1 }, content: [p(text)] });
const table = (...rows: string[][]): Block => ({
  type: "table",
  content: rows.map((row) => ({ type: "tableRow", content: row.map(cell) })),
});

/** A difference in short: what became of each block, and the words within as −gone +come. */
function short(changes: readonly Change[]): string[] {
  return changes.map((change): string => {
    if (change.kind === "arrived") return `arrived ${short([change.change])[0]}`;
    if (change.kind === "inside") return `inside(${short(change.changes).join(", ")})`;
    if (change.kind !== "reworded") return change.kind;
    const words = (all: readonly Block[]) => all.map((one) => one.text ?? `<${one.type}>`).join("");
    return change.runs
      .map((run) => {
        if (run.kind === "restyled") return `~${words(run.after)}`;
        return `${{ kept: "", removed: "−", added: "+" }[run.kind]}${run.kind === "kept" ? "…" : words(run.content)}`;
      })
      .join(" ");
  });
}

const A = "Start behind the lower sawmill where the paved lane ends at a trough.";
const B = "At the second wayside cross the path divides and you keep left.";
const C = "The spring at Fonte Grande runs all year and never fails.";

test.each<[string, Manuscript, Manuscript, string[]]>([
  ["nothing changed", doc(p(A), p(B)), doc(p(A), p(B)), ["kept", "kept"]],
  ["a word", doc(p(A)), doc(p(A.replace("lower", "upper"))), ["… −lower +upper …"]],
  [
    "a phrase is one change, not a word at a time",
    doc(p(B)),
    doc(p(B.replace("the path divides", "two tracks part"))),
    ["… −the path divides +two tracks part …"],
  ],
  ["a paragraph added", doc(p(A), p(C)), doc(p(A), p(B), p(C)), ["kept", "added", "kept"]],
  ["a paragraph removed", doc(p(A), p(B), p(C)), doc(p(A), p(C)), ["kept", "removed", "kept"]],
  ["a paragraph moved", doc(p(A), p(B), p(C)), doc(p(B), p(C), p(A)), ["left", "kept", "kept", "arrived kept"]],
  [
    "moved and reworded",
    doc(p(A), p(B), p(C)),
    doc(p(B), p(C), p(A.replace("lower", "upper"))),
    ["left", "kept", "kept", "arrived … −lower +upper …"],
  ],
  ["only the look", doc(p(A)), doc(p("Start behind the ", t("lower", "bold"), A.slice(22))), ["… ~lower …"]],
  ["a paragraph become a heading", doc(p(A)), doc({ type: "heading", attrs: { level: 2 }, content: [t(A)] }), ["…"]],
  [
    "within a table, cell by cell",
    doc(table(["Hut", "Beds"], ["Larice", "24"])),
    doc(table(["Hut", "Beds"], ["Larice", "30"])),
    ["inside(kept, inside(kept, inside(removed, added)))"],
  ],
  [
    "a row added",
    doc(table(["Hut", "Beds"], ["Larice", "24"])),
    doc(table(["Hut", "Beds"], ["Casere", "12"], ["Larice", "24"])),
    ["inside(kept, added, kept)"],
  ],
  [
    "an image keeps its place when its words change",
    doc({ type: "image", attrs: { file: "a", alt: "old" } }),
    doc({ type: "image", attrs: { file: "a", alt: "new" } }),
    ["inside()"],
  ],
  [
    "another image is another",
    doc({ type: "image", attrs: { file: "a" } }),
    doc({ type: "image", attrs: { file: "b" } }),
    ["added", "removed"],
  ],
  [
    "a note gone",
    doc(p("Word", { type: "note", attrs: { text: "n" } }, " more")),
    doc(p("Word more")),
    ["… −<note> …"],
  ],
  ["written anew", doc(p(A)), doc(p("Quite other words stand here today, none of them known.")), ["added", "removed"]],
])("%s", (_, before, after, expected) => {
  const changes = compareManuscripts(before, after);
  expect(short(changes).sort()).toEqual([...expected].sort());
  expect(applyChanges(before, changes)).toEqual(after);
});

test("applying the difference of any two texts to the old gives the new", () =>
  fc.assert(
    fc.property(anyManuscript, anyManuscript, (before, after) => {
      expect(applyChanges(before, compareManuscripts(before, after))).toEqual(after);
    }),
    { numRuns: 300 },
  ));

/** A text and what an editor might make of it: blocks dropped, doubled, swapped, words changed. */
const edited = fc
  .tuple(
    anyManuscript,
    fc.array(fc.tuple(fc.nat(), fc.constantFrom("drop", "double", "swap", "word")), { maxLength: 6 }),
  )
  .map(([before, edits]) => {
    const content = structuredClone((before as Block).content ?? []);
    for (const [n, edit] of edits) {
      const at = n % content.length;
      const block = content[at] as Block;
      if (edit === "drop" && content.length > 1) content.splice(at, 1);
      if (edit === "double") content.splice(at, 0, structuredClone(block));
      if (edit === "swap") content.unshift(...content.splice(at, 1));
      const [first] = block.content ?? [];
      if (edit === "word" && first?.type === "text") first.text = `new ${first.text}`;
    }
    return { before, after: { ...before, content } as Manuscript };
  });

test("… and of a text and its edited self, without saying more than there is", () =>
  fc.assert(
    fc.property(edited, ({ before, after }) => {
      const changes = compareManuscripts(before, after);
      expect(applyChanges(before, changes)).toEqual(after);
      const left = changes.filter((change) => change.kind === "left").length;
      expect(changes.filter((change) => change.kind === "arrived")).toHaveLength(left);
    }),
    { numRuns: 300 },
  ));

test("a text against itself is kept, whatever it holds", () =>
  fc.assert(
    fc.property(anyManuscript, (manuscript) => {
      expect(compareManuscripts(manuscript, manuscript).every((change) => change.kind === "kept")).toBe(true);
    }),
  ));

test("a difference is refused by a text it was not taken from", () => {
  const changes = compareManuscripts(doc(p(A)), doc(p(B)));
  expect(() => applyChanges(doc(p(C)), changes)).toThrow("another text");
});

test("how much: words come and gone, moves not counted", () => {
  const changes = compareManuscripts(doc(p(A), p(B), p(C)), doc(p(B), p(C), p(A.replace("lower", "upper old"))));
  expect(countChanged(changes, countWords)).toEqual({ added: 2, removed: 1 });
});

test("two texts with nothing in common, and one endless line, end in good time", () => {
  const words = (word: string) => Array.from({ length: 60_000 }, (_, i) => `${word}${i}`).join(" ");
  expect(compareRuns([t(words("a"))], [t(words("b"))]).map((run) => run.kind)).toEqual(["removed", "added"]);
});

test("a paragraph of more words than a call takes at once is compared all the same", () => {
  const line = (mark: string) => [
    { type: "text", text: Array.from({ length: 150_000 }, (_, i) => `${mark}${i}`).join(" ") },
  ];
  expect(compareRuns(line("a"), line("b")).map(({ kind }) => kind)).toEqual(["removed", "added"]);
});
