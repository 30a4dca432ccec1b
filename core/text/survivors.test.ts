import fc from "fast-check";
import type { Manuscript } from "./manuscript.ts";
import { plainOf } from "./points.ts";
import { type Stretch, survivors } from "./survivors.ts";

/** A text of paragraphs; a dash before one makes it an item of a list. */
const text = (...lines: string[]): Manuscript =>
  ({
    type: "doc",
    content: lines.map((line) => {
      const words = line.replace(/^- /, "");
      const paragraph = { type: "paragraph", content: words === "" ? [] : [{ type: "text", text: words }] };
      return line.startsWith("- ")
        ? { type: "bulletList", content: [{ type: "listItem", content: [paragraph] }] }
        : paragraph;
    }),
  }) as Manuscript;

const points = (value: Manuscript) => Array.from(`${plainOf(value)}\n`);
const cut = (all: readonly string[], from: number, length: number) => all.slice(from, from + length).join("");
/** The words that lasted, each as it stands now, moved ones with a sign before. */
const lasted = (before: Manuscript, after: Manuscript) =>
  survivors(before, after).map(({ to, length, move }) => `${move ? ">" : ""}${cut(points(after), to, length)}`);

test.each<[what: string, before: Manuscript, after: Manuscript, stays: string[]]>([
  ["nothing changed", text("One stone.", "Two."), text("One stone.", "Two."), ["One stone.\nTwo.\n"]],
  ["all is new", text("Fog."), text("Sun!"), []],
  ["a paragraph came before", text("Fog."), text("Snow on the pass.", "Fog."), ["Fog.\n"]],
  ["one went from between", text("A b.", "C d.", "E f."), text("A b.", "E f."), ["A b.\n", "E f.\n"]],
  ["a word was put in", text("The hut opens."), text("The high hut opens."), ["The ", "hut opens.\n"]],
  ["a word was replaced", text("The hut opens late."), text("The hut closes late."), ["The hut ", " late.\n"]],
  [
    "a paragraph moved",
    text("The first of the huts.", "The way up to the pass is long.", "The spring runs all year."),
    text("The way up to the pass is long.", "The spring runs all year.", "The first of the huts."),
    [">The first of the huts.\n", "The way up to the pass is long.\nThe spring runs all year.\n"],
  ],
  [
    "an emoji counts once",
    text("🏔 peak in snow", "and on"),
    text("🏔 peak in fog", "and on"),
    ["🏔 peak in ", "\nand on\n"],
  ],
])("%s", (_, before, after, stays) => {
  expect(lasted(before, after)).toEqual(stays);
});

test("a line is a text of one paragraph; of nothing, nothing lasts", () => {
  expect(survivors("Fog on the pass", "Fog on the high pass")).toEqual([
    { from: 0, to: 0, length: 11, move: 0 },
    { from: 11, to: 16, length: 5, move: 0 },
  ]);
  expect(survivors(undefined, "Fog")).toEqual([]);
});

test("a book changed all over is compared at its ends alone, and soon", () => {
  const chapters = (of: string) => Array.from({ length: 400 }, (_, i) => `${of} ${i} `.repeat(60));
  const before = text("The beginning.", ...chapters("stone"), "The end.");
  const after = text("The beginning.", ...chapters("water"), "The end.");
  const found = survivors(before, after);
  expect(found).toHaveLength(2);
  expect(found.map(({ from, length }) => cut(points(before), from, length).trim())).toEqual([
    "The beginning.",
    expect.stringContaining("The end."),
  ]);
});

describe("laws", () => {
  const word = fc.constantFrom("fog", "snow", "the", "pass", "hut", "🏔", "on", "a", "late", "spring");
  const line = fc
    .tuple(fc.constantFrom("", "", "- "), fc.array(word, { maxLength: 6 }))
    .map(([mark, words]) => mark + words.join(" "));
  const lines = fc.array(line, { minLength: 1, maxLength: 6 });
  const both = fc.tuple(lines, lines).map(([before, after]) => [text(...before), text(...after)] as const);
  const ends = (at: "from" | "to") => (one: Stretch) => [one[at], one[at] + one.length] as const;

  test("what lasts reads the same where it stood and where it stands", () =>
    fc.assert(
      fc.property(both, ([before, after]) => {
        const [was, now] = [points(before), points(after)];
        for (const { from, to, length } of survivors(before, after)) {
          expect(cut(now, to, length)).toBe(cut(was, from, length));
          expect(length).toBeGreaterThan(0);
          expect(from + length).toBeLessThanOrEqual(was.length);
        }
      }),
      { numRuns: 300 },
    ));

  test("no character lasts twice, in neither text, and they come in the order they stood", () =>
    fc.assert(
      fc.property(both, ([before, after]) => {
        const found = survivors(before, after);
        expect(found).toEqual(found.toSorted((a, b) => a.from - b.from));
        for (const at of ["from", "to"] as const) {
          const spans = found.map(ends(at)).toSorted(([a], [b]) => a - b);
          for (const [i, [begins]] of spans.entries()) expect(begins).toBeGreaterThanOrEqual(spans[i - 1]?.[1] ?? 0);
        }
      }),
      { numRuns: 300 },
    ));

  test("of what did not change all lasts, as one", () =>
    fc.assert(
      fc.property(lines, (all) => {
        const same = text(...all);
        expect(survivors(same, same)).toEqual([{ from: 0, to: 0, length: points(same).length, move: 0 }]);
      }),
    ));

  test("what is put in between takes nothing away", () =>
    fc.assert(
      fc.property(lines, lines, lines, (head, between, tail) => {
        const before = text(...head, ...tail);
        const total = survivors(before, text(...head, ...between, ...tail)).reduce(
          (sum, { length }) => sum + length,
          0,
        );
        expect(total).toBe(points(before).length);
      }),
    ));
});
