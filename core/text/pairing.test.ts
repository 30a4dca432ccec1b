import fc from "fast-check";
import type { Block } from "./block.ts";
import { alike, family, type Pairing, pair } from "./pairing.ts";

const paragraph = (words: string): Block => ({
  type: "paragraph",
  content: words === "" ? [] : [{ type: "text", text: words }],
});
const heading = (words: string): Block => ({ ...paragraph(words), type: "heading", attrs: { level: 2 } });
const image = (file: string): Block => ({ type: "image", attrs: { file } });
const places = (blocks: readonly Block[]) => blocks.map((_, i) => i);
const pairOf = (before: Block[], after: Block[]) => pair(places(before), places(after), before, after);
const alikeOf = (before: Block[], after: Block[]) => alike(places(before), places(after), before, after);
const at = (...pairs: [number, number][]) => pairs.map(([from, to]) => ({ from, to }));

test.each<[block: Block, family: string]>([
  [paragraph("fog"), "words"],
  [heading("fog"), "words"],
  [{ type: "bulletList" }, "list"],
  [{ type: "orderedList" }, "list"],
  [{ type: "tableCell" }, "cell"],
  [{ type: "tableHeader" }, "cell"],
  [{ type: "table" }, "table"],
  [{ type: "blockquote" }, "blockquote"],
  [image("a"), "image a"],
])("%j can turn into what is of the family %s", (block, of) => expect(family(block)).toBe(of));

const HUT = "The hut opens on the first of June.";
const SPRING = "The spring behind it runs all year.";
const BUS = "No bus goes up on Mondays.";

test.each<[what: string, before: Block[], after: Block[], pairs: Pairing[]]>([
  ["nothing came", [paragraph(HUT)], [], []],
  ["nothing went", [], [paragraph(HUT)], []],
  ["words changed in place", [paragraph(HUT)], [paragraph("The hut opens on the tenth of June.")], at([0, 0])],
  ["a paragraph became a heading", [paragraph(HUT)], [heading(HUT)], at([0, 0])],
  ["large and small letters are one", [paragraph(HUT)], [paragraph(HUT.toUpperCase())], at([0, 0])],
  ["words in another order are the same words", [paragraph("fog and snow")], [paragraph("snow and fog")], at([0, 0])],
  [
    "one came between",
    [paragraph(HUT), paragraph(BUS)],
    [paragraph(HUT), paragraph(SPRING), paragraph(BUS)],
    at([0, 0], [1, 2]),
  ],
  [
    "of two that crossed, equally alike, the later one stays",
    [paragraph(HUT), paragraph(BUS)],
    [paragraph(BUS), paragraph(HUT)],
    at([1, 0]),
  ],
  ["too little is alike", [paragraph("fog on the pass")], [paragraph("sun in our valley")], []],
  ["one is far longer", [paragraph("fog")], [paragraph("fog lies over all the huts today")], []],
  [
    "words do not become a list",
    [paragraph(HUT)],
    [{ type: "bulletList", content: [{ type: "listItem", content: [paragraph(HUT)] }] }],
    [],
  ],
  ["a picture is itself", [image("a"), image("b")], [image("b")], at([1, 0])],
  ["empty paragraphs say nothing", [paragraph("")], [paragraph("")], []],
])("in order: %s", (_, before, after, pairs) => expect(pairOf(before, after)).toEqual(pairs));

test.each<[what: string, before: Block[], after: Block[], pairs: Pairing[]]>([
  ["two that crossed", [paragraph(HUT), paragraph(BUS)], [paragraph(BUS), paragraph(HUT)], at([1, 0], [0, 1])],
  [
    "the most alike first, each once",
    [paragraph(HUT)],
    [paragraph("The hut opens on the tenth of June."), paragraph(HUT)],
    at([0, 1]),
  ],
  ["of equals the one that stands first", [paragraph(HUT)], [paragraph(HUT), paragraph(HUT)], at([0, 0])],
  ["three words are like too many others", [paragraph("See the map.")], [paragraph("See the map.")], []],
  [
    "a move asks for more than a change",
    [paragraph("fog lies on the pass today")],
    [paragraph("fog lies on our valley now")],
    [],
  ],
])("anywhere: %s", (_, before, after, pairs) => {
  expect(alikeOf(before, after).map(({ from, to }) => ({ from, to }))).toEqual(pairs);
});

test("a gap larger than can be compared is a text written anew", () => {
  const many = Array.from({ length: 501 }, (_, i) => paragraph(`the same words, ${i}`));
  expect(pairOf(many, many)).toEqual([]);
  expect(alikeOf(many, many)).toEqual([]);
});

describe("laws", () => {
  const words = fc
    .array(fc.constantFrom("fog", "snow", "hut", "pass", "late"), { maxLength: 5 })
    .map((all) => all.join(" "));
  const block = fc.oneof(words.map(paragraph), words.map(heading), fc.constantFrom("a", "b").map(image));
  const blocks = fc.array(block, { maxLength: 5 });

  /** How alike two blocks are, counted by crossing words out one by one. */
  function likeness(one: Block, other: Block): number {
    if (family(one) !== family(other)) return 0;
    const [a, b] = [one, other].map((block) => (block.content?.[0]?.text ?? "").split(" ").filter(Boolean)) as [
      string[],
      string[],
    ];
    if (a.length + b.length === 0) return one.type === "image" ? 1 : 0;
    const left = [...b];
    const common = a.filter((word) => left.includes(word) && left.splice(left.indexOf(word), 1)).length;
    return (2 * common) / (a.length + b.length);
  }

  /** The most that any pairing in order comes to. */
  function most(before: readonly Block[], after: readonly Block[]): number {
    const [one, ...rest] = before;
    if (!one) return 0;
    return Math.max(
      most(rest, after),
      ...after.map((other, i) => {
        const like = likeness(one, other);
        return like >= 0.4 ? like + most(rest, after.slice(i + 1)) : 0;
      }),
    );
  }

  test("no pairing in order is more alike, against every one tried", () =>
    fc.assert(
      fc.property(blocks, blocks, (before, after) => {
        const pairs = pairOf(before, after);
        const total = pairs.reduce((sum, { from, to }) => sum + likeness(before[from] as Block, after[to] as Block), 0);
        expect(total).toBeCloseTo(most(before, after), 9);
      }),
    ));

  test("pairs run in order in both texts, and nothing is paired with what it could not become", () =>
    fc.assert(
      fc.property(blocks, blocks, (before, after) => {
        const pairs = pairOf(before, after);
        for (const [i, { from, to }] of pairs.entries()) {
          expect(from).toBeGreaterThan(pairs[i - 1]?.from ?? -1);
          expect(to).toBeGreaterThan(pairs[i - 1]?.to ?? -1);
          expect(likeness(before[from] as Block, after[to] as Block)).toBeGreaterThanOrEqual(0.4);
        }
      }),
    ));

  test("anywhere, nothing is taken twice, and what is left over is like nothing that is left", () =>
    fc.assert(
      fc.property(blocks, blocks, (before, after) => {
        const found = alikeOf(before, after);
        expect(new Set(found.map(({ from }) => from)).size).toBe(found.length);
        expect(new Set(found.map(({ to }) => to)).size).toBe(found.length);
        for (const [from, one] of before.entries())
          for (const [to, other] of after.entries()) {
            const free = !found.some((pair) => pair.from === from || pair.to === to);
            const long = (one.content?.[0]?.text ?? "").split(" ").length >= 4;
            if (free && long) expect(likeness(one, other)).toBeLessThan(0.6);
          }
      }),
    ));
});
