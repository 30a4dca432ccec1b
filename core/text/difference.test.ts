import { compareContents } from "./compare.ts";
import { sayDifference } from "./difference.ts";
import type { Field } from "./field.ts";
import type { Content } from "./fields.ts";

const fields = [
  { key: "body", name: "Text", type: "manuscript" },
  { key: "place", name: "Place", type: "line" },
] as Field[];
const content = (place: string, ...paragraphs: string[]) =>
  ({
    title: "Winter room keys",
    fields: {
      place,
      body: {
        type: "doc",
        content: paragraphs.map((text) => ({ type: "paragraph", content: [{ type: "text", text }] })),
      },
    },
  }) as unknown as Content;
const KEYS = "The keys hang at the bus office.";
const OPEN = "It opens at eight in the morning.";

test.each([
  ["nothing", content("Casere", KEYS), content("Casere", KEYS), ""],
  [
    "a word within a passage",
    content("Casere", KEYS, OPEN),
    content("Casere", KEYS, "It opens at nine in the morning."),
    "Text:\n- It opens at eight in the morning.\n+ It opens at nine in the morning.",
  ],
  [
    "a field and a passage that came",
    content("Casere", KEYS),
    content("Vela", KEYS, OPEN),
    "Text:\n+ It opens at eight in the morning.\n\nPlace:\n- Casere\n+ Vela",
  ],
  ["a passage that went", content("", KEYS, OPEN), content("", KEYS), "Text:\n- It opens at eight in the morning."],
])("%s", (_, before, after, said) => {
  expect(sayDifference(compareContents(fields, before, after)).trim()).toBe(said);
});
