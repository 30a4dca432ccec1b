import fc from "fast-check";
import type { Manuscript } from "./manuscript.ts";
import { readManuscript } from "./schema.ts";

/** Manuscripts of every shape the schema allows, for laws that hold for all of them. */
type Json = Record<string, unknown>;

const WORDS = [
  "the",
  "ridge",
  "snow",
  "hut",
  "3",
  "km",
  "–",
  "§",
  "Öd",
  "🏔",
  "مسار",
  "*",
  "_",
  "#",
  "1.",
  "- ",
  "|",
  "[a]",
  "<b>",
  "&amp;",
  "\\",
  " ",
  "\u00a0",
];
const words = fc
  .array(fc.constantFrom(...WORDS), { minLength: 1, maxLength: 6 })
  .map((all) => all.join(" ").trim() || "x");
const anyText = fc.oneof(
  { weight: 4, arbitrary: words },
  { weight: 1, arbitrary: fc.string({ minLength: 1, maxLength: 12 }) },
);
const FILE = "ab12".repeat(16);

const marks = fc
  .record({ link: fc.boolean(), bold: fc.boolean(), italic: fc.boolean() })
  .map(({ link, bold, italic }) => [
    ...(link ? [{ type: "link", attrs: { href: "https://fontelba.example/a?b=1&c=(2)" } }] : []),
    ...(bold ? [{ type: "bold" }] : []),
    ...(italic ? [{ type: "italic" }] : []),
  ]);
const text = fc
  .tuple(anyText, fc.oneof({ weight: 3, arbitrary: fc.constant([]) }, { weight: 1, arbitrary: marks }))
  .map(([value, held]): Json => ({ type: "text", text: value, ...(held.length ? { marks: held } : {}) }));
const inline = fc.array(
  fc.oneof(
    { weight: 8, arbitrary: text },
    { weight: 1, arbitrary: fc.constant<Json>({ type: "hardBreak" }) },
    { weight: 1, arbitrary: anyText.map((value): Json => ({ type: "note", attrs: { text: value } })) },
  ),
  { maxLength: 5 },
);
const holding = (type: string, content: Json[], attrs?: Json): Json => ({
  type,
  ...(attrs ? { attrs } : {}),
  ...(content.length ? { content } : {}),
});
const paragraph = inline.map((content) => holding("paragraph", content));
const leaf = fc.oneof(
  { weight: 6, arbitrary: paragraph },
  {
    weight: 1,
    arbitrary: fc
      .tuple(inline, fc.constantFrom(2, 3, 4))
      .map(([content, level]) => holding("heading", content, { level })),
  },
  { weight: 1, arbitrary: fc.constant<Json>({ type: "horizontalRule" }) },
  {
    weight: 1,
    arbitrary: fc
      .tuple(anyText, anyText)
      .map(([alt, credit]): Json => ({ type: "image", attrs: { file: FILE, alt, caption: "", credit } })),
  },
);
const cell = fc
  .tuple(
    fc.constantFrom("tableCell", "tableHeader"),
    fc.array(paragraph, { minLength: 1, maxLength: 2 }),
    fc.constantFrom(1, 1, 2),
  )
  .map(([type, content, colspan]) => holding(type, content, { colspan, rowspan: 1 }));
const row = fc.array(cell, { minLength: 1, maxLength: 3 }).map((content) => holding("tableRow", content));
const block: fc.Arbitrary<Json> = fc.letrec<{ block: Json }>((tie) => {
  const item = fc
    .tuple(paragraph, fc.array(tie("block"), { maxLength: 1 }))
    .map(([first, more]) => holding("listItem", [first, ...more]));
  const items = fc.array(item, { minLength: 1, maxLength: 3 });
  return {
    block: fc.oneof(
      { depthSize: "small", maxDepth: 3, withCrossShrink: true },
      { weight: 6, arbitrary: leaf },
      { weight: 1, arbitrary: items.map((content) => holding("bulletList", content)) },
      {
        weight: 1,
        arbitrary: fc
          .tuple(items, fc.constantFrom(1, 1, 4))
          .map(([content, start]) => holding("orderedList", content, { start })),
      },
      {
        weight: 1,
        arbitrary: fc
          .array(tie("block"), { minLength: 1, maxLength: 2 })
          .map((content) => holding("blockquote", content)),
      },
      {
        weight: 1,
        arbitrary: fc.array(row, { minLength: 1, maxLength: 3 }).map((content) => holding("table", content)),
      },
    ),
  };
}).block;

/** A manuscript as it is after being read: adjacent runs joined, characters cleaned. */
export const anyManuscript: fc.Arbitrary<Manuscript> = fc
  .array(block, { minLength: 1, maxLength: 6 })
  .map((content) => {
    const read = readManuscript({ type: "doc", content });
    if ("problem" in read) throw new Error(read.problem);
    return read.manuscript;
  });
