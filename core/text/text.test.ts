import fc from "fast-check";
import type { Field } from "./field.ts";
import { type Content, countFields, fieldProblems } from "./fields.ts";
import { escapeHtml, filesBelow, toHtml as withPictures } from "./html.ts";
import { emptyManuscript, type Manuscript, safeAddress } from "./manuscript.ts";
import { fromMarkdown } from "./markdown.ts";
import { countCharacters, countWords } from "./measure.ts";
import { textOf } from "./plain.ts";
import { readContent } from "./reading.ts";
import { readManuscript } from "./schema.ts";

const toHtml = (manuscript: Manuscript) => withPictures(manuscript, filesBelow("/pieces/a"));
const text = (words: string, marks: object[] = []) => ({
  type: "text",
  text: words,
  ...(marks.length ? { marks } : {}),
});
const doc = (...content: object[]) => ({ type: "doc", content });
const p = (...content: object[]) => ({ type: "paragraph", content });

test.each<[string, object, string]>([
  [
    "marks",
    doc(p(text("a "), text("b", [{ type: "bold" }]), text("c", [{ type: "italic" }]))),
    "<p>a <strong>b</strong><em>c</em></p>",
  ],
  ["what could be markup is text", doc(p(text('<script>"&'))), "<p>&#60;script&#62;&#34;&#38;</p>"],
  [
    "a link, its address escaped",
    doc(p(text("x", [{ type: "link", attrs: { href: "https://a.test/?a=1&b=2" } }]))),
    '<p><a href="https://a.test/?a=1&#38;b=2">x</a></p>',
  ],
  [
    "headings and lists",
    doc(
      { type: "heading", attrs: { level: 3 }, content: [text("H")] },
      { type: "orderedList", attrs: { start: 4 }, content: [{ type: "listItem", content: [p(text("one"))] }] },
    ),
    '<h3>H</h3><ol start="4"><li><p>one</p></li></ol>',
  ],
  [
    "a table",
    doc({
      type: "table",
      content: [
        {
          type: "tableRow",
          content: [{ type: "tableHeader", attrs: { colspan: 2, rowspan: 1 }, content: [p(text("A"))] }],
        },
      ],
    }),
    '<table><tr><th colspan="2"><p>A</p></th></tr></table>',
  ],
  [
    "notes, numbered and listed at the end",
    doc(p(text("a"), { type: "note", attrs: { text: "<n>" } })),
    '<p>a<sup id="note-ref-1"><a href="#note-1">1</a></sup></p><ol class="notes"><li id="note-1">&#60;n&#62; <a href="#note-ref-1">back</a></li></ol>',
  ],
])("as HTML: %s", (_, manuscript, html) => {
  expect(toHtml(manuscript)).toBe(html);
});

describe("reading a manuscript", () => {
  test.each<[string, unknown]>([
    ["an unknown node", doc({ type: "iframe" })],
    ["a heading too large", doc({ type: "heading", attrs: { level: 1 } })],
    ["a link that runs a script", doc(p(text("x", [{ type: "link", attrs: { href: "javascript:alert(1)" } }])))],
    ["text where a block belongs", doc(text("x"))],
    ["no document", p(text("x"))],
    ["null", null],
  ])("%s is refused", (_, json) => {
    expect(readManuscript(json)).toHaveProperty("problem");
  });
  test("attributes it does not know are dropped", () => {
    const read = readManuscript(doc({ ...p(text("x")), attrs: { style: "color:red", onclick: "x" } }));
    expect(read).toEqual({ manuscript: doc(p(text("x"))) });
  });
  test("whatever is written comes out without a live tag", () =>
    fc.assert(
      fc.property(fc.string({ minLength: 1 }), fc.string(), (words, note) => {
        const html = toHtml(doc(p(text(words), { type: "note", attrs: { text: note } })));
        expect(html.replace(/<\/?(p|sup|a|ol|li|em)( (id|class|href|style)="[^"<>]*")*>/g, "")).not.toMatch(/[<>"]/);
        expect(escapeHtml(words)).not.toMatch(/[<>"']/);
      }),
    ));
});

describe("Markdown in", () => {
  test("structure is kept: title, headings, lists, links, tables, emphasis, notes", () => {
    const draft = fromMarkdown(
      "# Title\n\n## Up\n\nA *b* **c** [d](https://e.test) f[^1].\n\n- one\n- two\n\n1. x\n\n> q\n\n| A | B |\n|---|---|\n| 1 | 2 |\n\n[^1]: the note\n",
    );
    expect(draft.title).toBe("Title");
    expect(draft.leftOut).toEqual([]);
    expect(toHtml(draft.manuscript)).toBe(
      '<h2>Up</h2><p>A <em>b</em> <strong>c</strong> <a href="https://e.test">d</a> f<sup id="note-ref-1"><a href="#note-1">1</a></sup>.</p><ul><li><p>one</p></li><li><p>two</p></li></ul><ol><li><p>x</p></li></ol><blockquote><p>q</p></blockquote><table><tr><th><p>A</p></th><th><p>B</p></th></tr><tr><td><p>1</p></td><td><p>2</p></td></tr></table><ol class="notes"><li id="note-1">the note <a href="#note-ref-1">back</a></li></ol>',
    );
  });
  test("what cannot be kept is said, and nothing dangerous is", () => {
    const draft = fromMarkdown("![x](y.png)\n\n<b onclick=x>bold</b>\n\n[bad](javascript:alert(1))\n");
    expect(draft.title).toBeNull();
    expect(draft.leftOut).toEqual([
      "One picture could not be kept.",
      "A link that leads nowhere outside was kept as plain words.",
    ]);
    expect(toHtml(draft.manuscript)).not.toMatch(/<b |href="javascript/);
  });
  test("any text becomes a manuscript the core accepts", () =>
    fc.assert(
      fc.property(fc.oneof(fc.string(), fc.string({ unit: fc.constantFrom(..."#*_`[]()!|->1. \n^:a") })), (source) =>
        expect(readManuscript(fromMarkdown(source).manuscript)).toHaveProperty("manuscript"),
      ),
    ));
});

test("words and characters are counted as a reader counts", () => {
  expect(countWords("It’s 14.2 km — or so.")).toBe(5);
  expect(countWords("at the hut.The path")).toBe(5);
  expect(countWords("")).toBe(0);
  expect(countCharacters("é👩‍👩‍👧!")).toBe(3);
});

test("a long text counts as its pieces do", () =>
  fc.assert(
    fc.property(
      fc.array(fc.constantFrom("ridge", "14.2", "é", "👩‍👩‍👧", "don’t"), { minLength: 400, maxLength: 900 }),
      (all) => {
        expect(countWords(all.join(" "))).toBe(all.reduce((sum, word) => sum + countWords(word), 0));
        expect(countCharacters(all.join(" "))).toBe(all.reduce((sum, word) => sum + countCharacters(word) + 1, -1));
      },
    ),
    { numRuns: 20 },
  ));

describe("fields", () => {
  const fields: Field[] = [
    { key: "standfirst", name: "Standfirst", type: "line", required: true, maxWords: 3 },
    { key: "body", name: "Body", type: "manuscript", required: true, minWords: 2 },
    { key: "season", name: "Season", type: "line", required: false },
  ];
  const content = (standfirst: string, body: string) => ({
    title: "T",
    fields: { standfirst, body: doc(p(...(body ? [text(body)] : []))) },
  });
  const problems = (one: Content) => fieldProblems(fields, one, countFields(one));
  test.each([
    ["", "one", ["Standfirst is empty", "Body has 1 word, at least 2 are wanted"]],
    ["a b c d", "", ["Standfirst has 4 words, at most 3 fit", "Body is empty"]],
    ["a b c", "one two", []],
  ])("%j and %j", (standfirst, body, expected) => {
    expect(problems(content(standfirst, body)).map((problem) => problem.sentence)).toEqual(expected);
  });
  test("reading trims, and a manuscript's words are those of its blocks", () => {
    const read = readContent(fields, { title: "  A \n B ", fields: { season: " all year " } });
    expect(read).toEqual({ content: { title: "A B", fields: { season: "all year" } } });
    expect(countFields({ title: "T", fields: { body: doc(p(text("one")), p(text("two"))) } })).toEqual({ body: 2 });
    expect(textOf(emptyManuscript())).toBe("");
    expect(safeAddress("//evil.test")).toBe(false);
  });
});
