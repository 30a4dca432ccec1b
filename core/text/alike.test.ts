import { alike } from "./alike.ts";

const KEYS =
  "The keys of the winter room hang at the bus office, and whoever takes them signs the book beside the door.";
const OTHER =
  "Snow bridges on the pass hold until ten; after that nobody should cross them without a rope and company.";
const said = (id: string, text: string, title = id) => ({ id, title, text });

test.each<[string, ReturnType<typeof said>[], [string, string][]]>([
  ["the same words under two titles", [said("a", KEYS), said("b", OTHER), said("c", KEYS)], [["a", "c"]]],
  [
    "most of a short text within a long one",
    [said("a", `${OTHER} ${KEYS} ${OTHER.split(" ").reverse().join(" ")}`), said("b", KEYS)],
    [["a", "b"]],
  ],
  [
    "one title, other words, in whichever case",
    [said("a", KEYS, "Winter Room"), said("b", OTHER, "winter room")],
    [["a", "b"]],
  ],
  ["other words", [said("a", KEYS), said("b", OTHER)], []],
  [
    "a few words they share",
    [said("a", `${KEYS} See you on the pass.`), said("b", `${OTHER} See you on the pass.`)],
    [],
  ],
  ["no words at all", [said("a", "", ""), said("b", "", "")], []],
  ["a word or two", [said("a", "Closed."), said("b", "Closed.")], []],
])("%s", (_, texts, expected) => {
  expect(alike(texts)).toEqual(expected);
});

test("what stands in every text is a formula, and no reason", () => {
  const many = Array.from({ length: 20 }, (_, i) =>
    said(`${i}`, "Write to us at the office, we answer within a week."),
  );
  expect(alike(many)).toEqual([]);
});
