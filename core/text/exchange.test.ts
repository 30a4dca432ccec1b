import commonmark from "commonmark-spec";
import fc from "fast-check";
import type { Block } from "./block.ts";
import { blockToHtml, filesBelow, toHtml } from "./html.ts";
import { fromHtml } from "./html-in.ts";
import { fromMarkdown } from "./markdown.ts";
import { toMarkdown } from "./markdown-out.ts";
import { emphasised, noteRuns } from "./note.ts";
import { textOf } from "./plain.ts";
import { anyManuscript } from "./samples.ts";
import { readManuscript } from "./schema.ts";

const addressOf = filesBelow("/pieces/a");
const known = (source: string) => /[0-9a-f]{64}/.exec(source)?.[0] ?? null;

test("HTML out and in again is the same manuscript", () =>
  fc.assert(
    fc.property(anyManuscript, (manuscript) => {
      expect(fromHtml(toHtml(manuscript, addressOf), known).manuscript).toEqual(manuscript);
    }),
    { numRuns: 400 },
  ));

test("Markdown out and in again is the same manuscript", () =>
  fc.assert(
    fc.property(anyManuscript, (manuscript) => {
      expect(fromMarkdown(toMarkdown(manuscript, addressOf), known).manuscript).toEqual(manuscript);
    }),
    { numRuns: 400 },
  ));

/** Words as they count: runs of letters and digits. */
const wordsIn = (text: string) => text.match(/[\p{L}\p{N}]+/gu) ?? [];
const shownBy = (html: string) =>
  html
    .replace(/<(script|style|textarea)[\s\S]*?(<\/\1>|$)/gi, "")
    .replace(/<\/?(em|strong|code|a|b|i|del)\b[^>]*>/gi, "")
    .replace(/<!--[\s\S]*?(-->|$)|<[?!][\s\S]*?>|<\/?[a-z][^>]*(>|$)/gi, " ")
    .replace(/&(lt|gt|amp|quot);/g, (all, name: "lt") => ({ lt: "<", gt: ">", amp: "&", quot: '"' })[name] ?? all);

test.each(commonmark.tests.map(({ number, section, markdown, html }) => [number, section, markdown, html] as const))(
  "example %i of CommonMark (%s): every word comes in, and goes out and in again the same",
  (_, __, markdown, shown) => {
    const { title, manuscript } = fromMarkdown(markdown.replaceAll("→", "\t"));
    expect(readManuscript(manuscript)).toEqual({ manuscript });
    const kept = wordsIn([title ?? "", textOf(manuscript)].join(" "));
    const left = [...kept];
    const missing = wordsIn(shownBy(shown.replaceAll("→", "\t"))).filter((word) => {
      const at = left.indexOf(word);
      if (at >= 0) left.splice(at, 1);
      return at < 0;
    });
    expect(missing).toEqual([]);
    expect(fromMarkdown(toMarkdown(manuscript, addressOf), known).manuscript).toEqual(manuscript);
  },
);

const html = (source: string) => toHtml(fromHtml(source).manuscript, addressOf);

test.each<[string, string, string]>([
  [
    "scripts, handlers and looks go",
    '<p onclick="x()" style="color:red">a<script>evil()</script> <b>b</b></p>',
    "<p>a <strong>b</strong></p>",
  ],
  ["a link that runs a script is words", '<p><a href="javascript:alert(1)">x</a></p>', "<p>x</p>"],
  [
    "divisions are paragraphs",
    "<div><div>one</div>two<section><p>three</p></section></div>",
    "<p>one</p><p>two</p><p>three</p>",
  ],
  [
    "a web list in a list",
    "<ul><li>a<ul><li>b</li></ul></li></ul>",
    "<ul><li><p>a</p><ul><li><p>b</p></li></ul></li></ul>",
  ],
  [
    "a table loses its dress",
    '<table class="x"><thead><tr><th>H</th></tr></thead><tbody><tr><td width="9">1</td></tr></tbody></table>',
    "<table><tr><th><p>H</p></th></tr><tr><td><p>1</p></td></tr></table>",
  ],
  [
    "bold by style, and bold undone by style",
    '<p><span style="font-weight:700">a</span><b style="font-weight:normal">b</b></p>',
    "<p><strong>a</strong>b</p>",
  ],
  [
    "bold a word processor says for other scripts alone",
    '<p><b style="mso-bidi-font-weight:normal">a</b><i style="mso-bidi-font-style:normal">b</i></p>',
    "<p><strong>a</strong><em>b</em></p>",
  ],
  [
    "a heading that became the title does not stay",
    "<p>before</p><h1>The salt road</h1><p>a</p>",
    "<p>before</p><p>a</p>",
  ],
  [
    "code is words with all their signs",
    "<pre>a *b*\n\tc</pre><p><code>_d_</code></p>",
    '<p style="white-space: pre-wrap">a *b*<br>    c</p><p>_d_</p>',
  ],
  [
    "a list may begin high, but not beyond",
    '<ol start="123456789"><li>a</ol><ol start="-4"><li>b</ol>',
    '<ol start="123456789"><li><p>a</p></li></ol><ol><li><p>b</p></li></ol>',
  ],
  [
    "empty paragraphs of a page go",
    "<p>a</p><p>&#160;</p><p> </p><p>b</p>",
    '<p>a</p><p style="white-space: pre-wrap">\u00a0</p><p>b</p>',
  ],
  [
    "a word processor's list",
    `<p class=MsoListParagraph style='mso-list:l0 level1 lfo1'><![if !supportLists]><span style='mso-list:Ignore'>1.<span>  </span></span><![endif]>one<o:p></o:p></p>
     <p class=MsoListParagraph style='mso-list:l0 level2 lfo1'><span style='mso-list:Ignore'>o</span>deeper</p>
     <p class=MsoListParagraph style='mso-list:l0 level1 lfo1'><span style='mso-list:Ignore'>2.</span>two</p><p class=MsoNormal>after</p>`,
    "<ol><li><p>one</p><ul><li><p>deeper</p></li></ul></li><li><p>two</p></li></ol><p>after</p>",
  ],
  [
    "a word processor's note",
    `<p>Word<a href="#_ftn1" name="_ftnref1"><span>[1]</span></a></p><div style='mso-element:footnote-list'><div id=ftn1><p><a href="#_ftnref1" name="_ftn1">[1]</a> Said the miller.</p></div></div>`,
    '<p>Word<sup id="note-ref-1"><a href="#note-1">1</a></sup></p><ol class="notes"><li id="note-1">Said the miller. <a href="#note-ref-1">back</a></li></ol>',
  ],
  [
    "emphasis in a note",
    `<p>Word<sup id="r"><a href="#n">1</a></sup></p><ol><li id="n">See <em> Hut book </em>and <b>5 * 3</b>. <a href="#r">back</a></li></ol>`,
    '<p>Word<sup id="note-ref-1"><a href="#note-1">1</a></sup></p><ol class="notes"><li id="note-1">See <em>Hut book</em> and 5 * 3. <a href="#note-ref-1">back</a></li></ol>',
  ],
])("HTML in: %s", (_, source, expected) => {
  expect(html(source)).toBe(expected);
});

test("HTML in says what it left out, once for each sort", () => {
  const draft = fromHtml(
    '<title>Not this</title><h1>The salt road</h1><p>a</p><img src="x.png"><img src="y.png"><iframe src="z"></iframe><s>old</s><script>1</script>',
  );
  expect(draft.title).toBe("The salt road");
  expect(draft.leftOut.toSorted()).toEqual([
    "2 pictures could not be kept.",
    "A frame, film or sound was left out.",
    "A script was left out.",
    "Struck-out words were kept as plain words.",
  ]);
});

test("whatever HTML comes, a manuscript the core accepts goes out", () =>
  fc.assert(
    fc.property(
      fc.array(
        fc.constantFrom(
          "<p>",
          "</p>",
          "<ul>",
          "<li>",
          "</ul>",
          "<table>",
          "<td>",
          "<tr>",
          "<b>",
          "</b>",
          "<h1>",
          "<blockquote>",
          "text",
          " ",
          "<br>",
          "<sup><a href='#n'>1</a></sup>",
          "<li id=n><a href='#'>x</a>",
          "<div style='mso-list:l0 level2'>",
          "<figure>",
          "<img src=a>",
          "<pre>\n",
        ),
        { maxLength: 25 },
      ),
      (parts) => {
        expect(readManuscript(fromHtml(parts.join("")).manuscript)).toHaveProperty("manuscript");
      },
    ),
  ));

test.each([
  ["See *Hut book*, p. 3", ["See ", "Hut book", ", p. 3"]],
  ["5 * 3 * 2", ["5 * 3 * 2"]],
  ["*a* and *b*", ["", "a", " and ", "b"]],
  ["**both*", ["*", "both"]],
])("a note's emphasis: %s", (note, expected) => {
  const runs = noteRuns(note);
  expect(runs.map(({ words }) => words)).toEqual(expected.filter(Boolean));
  expect(runs.map((run) => (run.emphasised ? emphasised(run.words) : run.words)).join("")).toBe(note);
});

test("runs are marked where they stand, and proposed words behind those they are for", () => {
  const { manuscript } = fromMarkdown("The *old* path🏔 climbs.\n\nCross the bridge.");
  const spans = [
    { id: "a", start: 4, end: 12, wording: null },
    { id: "b", start: 8, end: 12, wording: [{ type: "text", text: "track" }] },
    { id: "c", start: 22, end: 32, wording: null },
  ];
  expect(toHtml(manuscript, addressOf, spans)).toBe(
    '<p>The <mark data-thread="a"><em>old</em></mark><mark data-thread="a"> </mark><del data-thread="a b">path</del>' +
      '<ins data-thread="b">track</ins>🏔 climbs.</p><p><mark data-thread="c">Cross the </mark>bridge.</p>',
  );
});

test("Markdown stays plain where it has the words", () => {
  const plain =
    "## Up\n\nA *b* **c** [d](<https://e.test>) f[^1].\n\n- one\n\n- two\n\n> q\n\n| A | B |\n|---|---|\n| 1 | 2 |\n\n[^1]: the note\n";
  expect(toMarkdown(fromMarkdown(plain).manuscript, addressOf)).not.toMatch(/<(p|ul|table|blockquote|h2)/);
});

test.each([
  ["HTML", (block: Block) => blockToHtml(block, addressOf)],
  ["plain characters", textOf],
])("a node nobody knows is not written as %s: it is refused, not left out", (_, write) => {
  const paragraph = (held: Block) => ({ type: "paragraph", content: [held] });
  expect(() => write(paragraph({ type: "film" }))).toThrow("A film cannot be written here.");
  expect(() => write(paragraph({ type: "toString" }))).toThrow("A toString cannot be written here.");
});
