import fc from "fast-check";
import { excerpt, termsOf } from "./search.ts";

test.each([
  ["the hut at Casere", ["hut", "casere"]],
  ["Hüt +bridge* -(snow)", ["hüt", "bridge", "snow"]],
  ["to be or", []],
  ["", []],
  ["hut hut HUT", ["hut"]],
])("%j asks for %j", (asked, terms) => expect(termsOf(asked)).toEqual(terms));

const said = (text: string, asked: string) =>
  excerpt(text, termsOf(asked))
    .map(({ words, found }) => (found ? `[${words}]` : words))
    .join("");

test.each([
  ["Rain fell. The bridge at Casere is closed. Snow later.", "bridge", "The [bridge] at Casere is closed."],
  ["The bridge and the Bridgehead.", "bridge", "The [bridge] and the [Bridgehead]."],
  ["Première neige\nLater", "prem", "[Première] neige"],
  ["Nothing here", "bridge", ""],
])("in %j, %j stands as %j", (text, asked, excerpted) => expect(said(text, asked)).toBe(excerpted));

test("a long sentence is cut on both sides, and what was found stays in it", () => {
  const text = `${"before ".repeat(60)}avalanche${" after".repeat(60)}`;
  const shown = said(text, "avalan");
  expect(shown).toMatch(/^… .*\[avalanche\].* …$/);
  expect(shown.length).toBeLessThan(200);
});

test("of any text an excerpt is a part of it, and short", () => {
  fc.assert(
    fc.property(fc.string({ maxLength: 3_000 }), fc.string({ maxLength: 40 }), (text, asked) => {
      const shown = excerpt(text, termsOf(asked));
      const words = shown.map((one) => one.words).filter((one) => one !== "… " && one !== " …");
      expect(text).toContain(words.join(""));
    }),
  );
});
