import { readFileSync } from "node:fs";
import fc from "fast-check";
import { type Anchor, anchorAt, find } from "./anchor.ts";
import type { Block } from "./block.ts";
import { carry } from "./carry.ts";
import { fromMarkdown } from "./markdown.ts";
import { asManuscript, countPoints, leavesOf, plainOf } from "./points.ts";
import { acceptAll, overlap, type Proposal, readWording, runOf, unfit } from "./proposal.ts";
import { anyManuscript } from "./samples.ts";

interface Case {
  before: string;
  after: string;
  marks: ({ start: number; end: number } | { exact: string; prefix?: string; suffix?: string })[];
  expect: object[];
}
const { cases } = JSON.parse(readFileSync("core/text/cases/anchors.json", "utf8")) as { cases: Case[] };
const textOf = (markdown: string) => fromMarkdown(markdown).manuscript;
const at = (text: string, words: string) =>
  anchorAt(textOf(text), {
    start: plainOf(textOf(text)).indexOf(words),
    end: plainOf(textOf(text)).indexOf(words) + words.length,
  }) as Anchor;

/** What became of an anchor, as the command line says it. */
const said = (before: Anchor | null, after: Anchor | undefined) => {
  if (!before || !after || after.gone) return { state: "gone" };
  const { start, end, exact } = after;
  return { state: exact === before.exact ? "kept" : "changed", start, end, exact };
};

test.each(cases.map((one, i) => [i, one] as const))(
  "anchors of case %d",
  (_, { before, after, marks, expect: wanted }) => {
    const [was, now] = [textOf(before), textOf(after)];
    const anchors = marks.map((mark) => ("exact" in mark ? find(was, mark) : anchorAt(was, mark)));
    expect(anchors.map((anchor) => said(anchor, anchor ? carry([anchor], was, now)[0] : undefined))).toEqual(wanted);
  },
);

test.each([
  [
    "words around it change",
    "The *old* ridge path climbs north.",
    "The ridge path now climbs due north.",
    "path",
    "path",
  ],
  [
    "a word is put into it",
    "Cross the bridge at dawn.",
    "Cross the wooden bridge at dawn.",
    "the bridge",
    "the wooden bridge",
  ],
  ["its first word goes", "Cross the bridge at dawn.", "Cross over at dawn.", "bridge at", "at"],
  ["its look changes alone", "Cross the bridge.", "Cross the **bridge**.", "bridge", "bridge"],
  [
    "its full stop stays where its words change",
    "Turn left. Go on.",
    "Turn sharply right. Go on.",
    "Turn left.",
    "Turn sharply right.",
  ],
  [
    "its block moves",
    "One stays here now.\n\nTwo goes up to the hut.\n\nThree is last of all.",
    "Two goes up to the hut.\n\nOne stays here now.\n\nThree is last of all.",
    "to the hut",
    "to the hut",
  ],
  ["an emoji stands before it", "🏔 Cross the bridge.", "🏔🏔 Cross the bridge.", "the bridge", "the bridge"],
])("%s", (_, before, after, words, wanted) => {
  const anchor = find(textOf(before), { exact: words }) as Anchor;
  const [now] = carry([anchor], textOf(before), textOf(after)) as [Anchor];
  expect({ gone: now.gone, exact: now.exact }).toEqual({ gone: false, exact: wanted });
  expect(
    Array.from(plainOf(textOf(after)))
      .slice(now.start, now.end)
      .join(""),
  ).toBe(wanted);
});

test("what is gone keeps its quote, and stands again when its words come back with what stood around them", () => {
  const whole = textOf("The path climbs.\n\nCross the bridge at dawn.\n\nThen rest.");
  const without = textOf("The path climbs.\n\nThen rest.");
  const anchor = find(whole, { exact: "the bridge" }) as Anchor;
  const gone = carry([anchor], whole, without);
  expect(gone).toEqual([{ ...anchor, gone: true }]);
  expect(carry(gone, without, whole)).toEqual([anchor]);
  expect(carry(gone, without, textOf("The bridge elsewhere: the bridge is closed."))[0]?.gone).toBe(true);
});

test("a text that is very long and changed all over is carried at its ends, and nothing waits for it", () => {
  const words = Array.from({ length: 120_000 }, (_, i) => `w${(i * 7919) % 30_011}`);
  const doc = (all: readonly string[]) => ({
    type: "doc",
    content: [{ type: "paragraph", content: [{ type: "text", text: all.join(" ") }] }],
  });
  const [was, now] = [
    doc(words),
    doc(words.map((word, i) => (i > 50 && i < 119_900 && i % 90 === 0 ? `e${i}` : word))),
  ];
  const length = plainOf(was).length;
  const anchors = [
    { start: 0, end: 20 },
    { start: length - 20, end: length },
  ].map((range) => anchorAt(was, range) as Anchor);
  expect(carry(anchors, was, now).map(({ gone, exact }) => [gone, exact])).toEqual(
    anchors.map(({ exact }) => [false, exact]),
  );
});

test.each([
  ["outside the text", { start: 4, end: 400 }],
  ["with nothing in it", { start: 4, end: 4 }],
  ["backwards", { start: 6, end: 4 }],
  ["before the text", { start: -3, end: 4 }],
])("there is no run %s", (_, range) => expect(anchorAt(textOf("A short text."), range)).toBeNull());

/** A run within one block of a manuscript, by two numbers from 0 to 1. */
function runIn(manuscript: Block, [a, b, c]: readonly [number, number, number]) {
  const leaves = leavesOf(manuscript).map((leaf) => countPoints(plainOf({ type: "doc", content: [leaf] })));
  const chosen = Math.floor(a * leaves.length);
  const begin = leaves.slice(0, chosen).reduce((total, length) => total + length + 1, 0);
  const length = leaves[chosen] ?? 0;
  const [from, to] = [Math.floor(b * (length + 1)), Math.floor(c * (length + 1))].toSorted((x, y) => x - y) as [
    number,
    number,
  ];
  return from < to ? { start: begin + from, end: begin + to } : null;
}
const share = fc.double({ min: 0, max: 0.999, noNaN: true });
const place = fc.tuple(share, share, share);

test("an anchor whose words survive quotes them still, and none leaves its field", () =>
  fc.assert(
    fc.property(anyManuscript, fc.array(place, { maxLength: 6 }), anyManuscript, (manuscript, places, other) => {
      const anchors = places.flatMap((one) => {
        const range = runIn(manuscript as Block, one);
        return range ? [anchorAt(manuscript, range) as Anchor] : [];
      });
      expect(carry(anchors, manuscript, manuscript)).toEqual(anchors);
      const more = {
        type: "doc",
        content: [...((other as Block).content ?? []), ...((manuscript as Block).content ?? [])],
      };
      const beside = carry(anchors, manuscript, more);
      expect(beside.map(({ gone, exact }) => gone || exact)).toEqual(anchors.map(({ exact }) => exact));
      for (const anchor of carry(anchors, manuscript, other)) {
        const points = Array.from(plainOf(other));
        if (!anchor.gone) expect(points.slice(anchor.start, anchor.end).join("")).toBe(anchor.exact);
      }
    }),
    { numRuns: 300 },
  ));

const wordings = fc.constantFrom<Block[]>(
  [],
  [{ type: "text", text: "other words" }],
  [{ type: "text", text: "bold", marks: [{ type: "bold" }] }],
);

test("accepting all that do not overlap gives the same text in any order, and none of them the original", () =>
  fc.assert(
    fc.property(anyManuscript, fc.array(fc.tuple(place, wordings), { maxLength: 5 }), (manuscript, wanted) => {
      const proposals: Proposal[] = [];
      for (const [one, wording] of wanted) {
        const range = runIn(manuscript as Block, one);
        if (range && !proposals.some((other) => overlap(range, other))) proposals.push({ ...range, wording });
      }
      expect(acceptAll(manuscript, []).value).toEqual(manuscript);
      const together = acceptAll(manuscript, proposals).value;
      expect(acceptAll(manuscript, proposals.toReversed()).value).toEqual(together);
      let value = manuscript;
      let open = proposals.map((one) => ({ ...one, anchor: anchorAt(manuscript, one) as Anchor }));
      while (open.length > 0) {
        const [{ anchor, wording }, ...rest] = open as [(typeof open)[number], ...typeof open];
        const accepted = acceptAll(value, [{ start: anchor.start, end: anchor.end, wording }]);
        const carried = carry(
          rest.map((one) => one.anchor),
          value,
          accepted.value,
          accepted.stretches,
        );
        expect(carried.map((one, i) => unfit(one, rest[i]?.anchor.exact ?? ""))).toEqual(rest.map(() => null));
        open = rest.map((one, i) => ({ ...one, anchor: carried[i] as Anchor }));
        value = accepted.value as typeof manuscript;
      }
      expect(plainOf(value)).toBe(plainOf(together));
      expect(value).toEqual(together);
    }),
    { numRuns: 300 },
  ));

test("a proposal is for words of one block, and what it would put there is a line", () => {
  const text = textOf("The old ridge.\n\nThe hut.");
  expect(runOf(text, { start: 4, end: 7 })).toEqual([{ type: "text", text: "old" }]);
  expect(runOf(text, { start: 10, end: 18 })).toBeNull();
  expect(acceptAll("A 🏔 line", [{ start: 2, end: 3, wording: [{ type: "text", text: "high" }] }]).value).toBe(
    "A high line",
  );
  expect(readWording([{ type: "paragraph" }])).toHaveProperty("problem");
  expect(readWording("words")).toHaveProperty("problem");
  expect(readWording([{ type: "text", text: "x".repeat(5_000) }])).toHaveProperty("problem");
  expect(readWording([{ type: "text", text: "new" }])).toEqual({ wording: [{ type: "text", text: "new" }] });
});

test("what overlaps is an alternative, what touches is not", () => {
  expect([
    overlap({ start: 0, end: 3 }, { start: 2, end: 5 }),
    overlap({ start: 0, end: 3 }, { start: 3, end: 5 }),
  ]).toEqual([true, false]);
  expect(unfit(at("One two", "two"), "two")).toBeNull();
  expect(unfit({ ...at("One two", "two"), exact: "three" }, "two")).toBe("changed");
  expect(asManuscript(undefined).content).toEqual([{ type: "paragraph", content: [] }]);
});
