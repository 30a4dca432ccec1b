import fc from "fast-check";
import { type Element, readXml, type Written, writable, writeXml } from "./xml.ts";

const rootOf = (source: string): Element => {
  const read = readXml(source);
  if ("problem" in read) throw new Error(read.problem);
  return read.root;
};
const problemOf = (source: string) => {
  const read = readXml(source);
  return "problem" in read ? read.problem : null;
};

test("what is written is indented, its words as they are; what is not given is left out", () => {
  const written = writeXml({
    name: "feed",
    attributes: { xmlns: "urn:feed", lang: undefined },
    children: [
      { name: "title", attributes: { type: 'a "b" & <c>' }, children: ["Fog & ", "<snow>"] },
      { name: "empty", attributes: {}, children: [] },
    ],
  });
  expect(written).toBe(
    [
      '<?xml version="1.0" encoding="UTF-8"?>',
      '<feed xmlns="urn:feed">',
      '  <title type="a &#34;b&#34; &#38; &#60;c&#62;">Fog &#38; &#60;snow&#62;</title>',
      "  <empty/>",
      "</feed>",
      "",
    ].join("\n"),
  );
});

test("names are read by their namespace, attributes without a prefix apart from those of others", () => {
  const source = `\uFEFF<a:feed xmlns:a="urn:a" xmlns:b="urn:b" lang="it" b:lang="de" b:rank="2">
  <a:entry/>
  <entry xmlns="urn:c"><![CDATA[<fog>]]> &amp; &#x73;now</entry>
</a:feed>`;
  const feed = rootOf(source);
  expect(feed).toMatchObject({ namespace: "urn:a", name: "feed", line: 1, attributes: { lang: "it" } });
  expect(feed.foreign["urn:b"]).toEqual({ lang: "de", rank: "2" });
  expect(feed.children.map(({ namespace, name, line, text }) => [namespace, name, line, text])).toEqual([
    ["urn:a", "entry", 2, ""],
    ["urn:c", "entry", 3, "<fog> & snow"],
  ]);
});

test("what stands between an element's tags is found in the source", () => {
  const source = "<p>one <b>two</b><i/> three</p>";
  const p = rootOf(source);
  const inner = ({ inner: [from, to] }: Element) => source.slice(from, to);
  expect(inner(p)).toBe("one <b>two</b><i/> three");
  expect(p.children.map(inner)).toEqual(["two", ""]);
});

test.each<[what: string, source: string, problem: RegExp]>([
  ["nothing", "", /^line 1: /],
  ["words alone", "fog", /^line 1: /],
  ["an element that does not end", "<a>\n<b>", /^line 2: /],
  ["ends that cross", "<a>\n\n<b></a></b>", /^line 3: /],
  ["a prefix nobody named", "<a:b/>", /^line 1: .*a/],
  ["two roots", "<a/><b/>", /^line 1: /],
  ["a document type", '<!DOCTYPE a [<!ENTITY b "c">]>\n<a>&b;</a>', /document type declaration is not accepted/],
  ["an entity from elsewhere", '<!DOCTYPE a SYSTEM "file:///etc/passwd"><a/>', /document type/],
  ["an entity nobody named", "<a>&fog;</a>", /^line 1: /],
  ["an attribute twice", '<a b="1" b="2"/>', /^line 1: /],
  ["elements without end within each other", "<a>".repeat(101), /^line 1: .*100 deep/],
])("%s is refused with its line", (_, source, problem) => expect(problemOf(source)).toMatch(problem));

test("a hundred elements within each other are read", () => {
  expect(problemOf("<a>".repeat(100) + "</a>".repeat(100))).toBeNull();
});

test.each(["\u0000", "\u0008", "\u001f", "\ufffe", "\ud800"])(
  "XML has no place for %j: it throws, or is taken out",
  (bad) => {
    const root = (text: string): Written => ({ name: "a", attributes: {}, children: [text] });
    expect(() => writeXml(root(`fog${bad}`))).toThrow(RangeError);
    expect(() => writeXml({ name: "a", attributes: { b: bad }, children: [] })).toThrow(RangeError);
    expect(writable(`fog${bad} and ${bad}snow`)).toBe("fog and snow");
    expect(rootOf(writeXml(root(writable(`fog${bad}`)))).text).toBe("fog");
  },
);

describe("laws", () => {
  const name = fc.stringMatching(/^[a-z][a-z0-9-]{0,8}$/);
  const words = fc.string({ unit: "grapheme", maxLength: 12 }).map(writable);
  const { tree } = fc.letrec<{ tree: Written }>((tie) => ({
    tree: fc.record({
      name,
      attributes: fc.dictionary(
        name.filter((one) => !one.startsWith("xml")),
        words,
        { maxKeys: 3 },
      ),
      children: fc.oneof(
        { depthSize: "small" },
        words.map((text) => (text === "" ? [] : [text])),
        fc.array(tie("tree"), { minLength: 1, maxLength: 3 }),
      ),
    }),
  }));
  const bare = ({ name, attributes, children, text }: Element): Written => ({
    name,
    attributes: { ...attributes },
    children: children.length > 0 ? children.map(bare) : text === "" ? [] : [text],
  });

  test("what is written is read again as it was", () =>
    fc.assert(
      fc.property(tree, (root) => {
        expect(bare(rootOf(writeXml(root)))).toEqual(JSON.parse(JSON.stringify(root)));
      }),
    ));

  test("whatever comes is read or refused with a line, and never throws", () =>
    fc.assert(
      fc.property(
        fc.string({ unit: fc.constantFrom("<", ">", "/", "a", ":", "&", ";", '"', "=", " ", "!", "[", "]", "-", "?") }),
        (source) => {
          const problem = problemOf(source);
          expect(problem === null || /^line \d+: /.test(problem)).toBe(true);
        },
      ),
    ));
});
