import { checkEdition } from "#core/release/edition.ts";
import { sayStanding } from "./words.ts";

const piece = (pieceId: string, words: number, more: { ready?: boolean; late?: boolean } = {}) => ({
  pieceId,
  part: "news",
  slug: pieceId,
  words,
  holds: more.ready === false ? [{ code: "not-approved" as const }] : [],
  expected: more.late ? 1 : null,
  links: [],
});
const WORDS = { unit: "words", number: 560 } as const;

test.each([
  ["empty", [], WORDS, "Nothing is in it yet."],
  ["one ready", [piece("a", 60)], WORDS, "What is in it is ready. Together it has 60 of 560 words."],
  ["all ready", [piece("a", 60), piece("b", 1)], WORDS, "All 2 are ready. Together it has 61 of 560 words."],
  ["none ready", [piece("a", 60, { ready: false })], null, "None of 1 is ready. Together it has 60 words."],
  [
    "some too late",
    [piece("a", 60), piece("b", 40, { ready: false, late: true }), piece("c", 5, { ready: false, late: true })],
    WORDS,
    "1 of 3 is ready. 2 come too late; without them it has 60 of 560 words.",
  ],
  [
    "one too late, counted in pieces",
    [piece("a", 60), piece("b", 40, { ready: false, late: true })],
    { unit: "items", number: 8 } as const,
    "1 of 2 is ready. One comes too late; without it it has 1 of 8 pieces.",
  ],
])("%s", (_, items, target, said) => {
  const { ready, late, rest } = sayStanding(checkEdition(items, target, [], new Set()), items);
  expect(`${ready} ${late ?? ""}${rest}`.trim()).toBe(said);
});
