import { annotationsOf } from "./annotations.ts";
import { mentionsIn, READY_KINDS, readKinds } from "./thread.ts";

const NAMES = ["Ilda Marenzi", "Ilda Marenzi Rossi", "Wim Aldera", "Öd"];

test.each([
  ["@Wim Aldera, is this so?", ["Wim Aldera"]],
  ["Ask @Ilda Marenzi Rossi.", ["Ilda Marenzi Rossi"]],
  ["Ask @Ilda Marenzi.", ["Ilda Marenzi"]],
  ["Ask @Ilda Marenzis.", []],
  ["wim@Wim Aldera", []],
  ["@Öd @Öd!", ["Öd", "Öd"]],
  ["@ nobody", []],
])("who is mentioned in %s", (body, expected) => {
  expect(mentionsIn(body, NAMES).map(({ name }) => name)).toEqual(expected);
});

test("sorts of remarks keep their keys while they keep their names", () => {
  expect(readKinds(" Fact \n\nStyle\nWording", READY_KINDS)).toEqual({
    kinds: [
      { key: "fact", name: "Fact" },
      { key: "style", name: "Style" },
      { key: "wording", name: "Wording" },
    ],
  });
  expect(readKinds("Fact!", READY_KINDS)).toEqual({ kinds: [{ key: "fact-2", name: "Fact!" }] });
  for (const lines of ["A\nA", "x".repeat(31), Array.from({ length: 13 }, (_, i) => `S${i}`).join("\n")])
    expect(readKinds(lines, [])).toHaveProperty("problem");
});

test("a remark leaves as an annotation: where it stands, what was quoted, what was said", () => {
  const anchor = { start: 3, end: 7, exact: "path", prefix: "The", suffix: " up", gone: false };
  const said = { author: "Wim", body: "Which?", at: 0, editedAt: null };
  const thread = { id: "t", author: "Wim", field: "body", anchor, proposal: null, settledAt: null, comments: [said] };
  const page = annotationsOf("https://e.test/pieces/a", [
    thread,
    { ...thread, anchor: { ...anchor, gone: true }, proposal: [{ type: "text", text: "track" }] },
    { ...thread, anchor: null, field: null, comments: [said, { ...said, author: "Ada", body: "That." }] },
  ]);
  expect(JSON.parse(JSON.stringify(page))).toEqual({
    "@context": "http://www.w3.org/ns/anno.jsonld",
    id: "https://e.test/pieces/a/remarks.jsonld",
    type: "AnnotationPage",
    items: [
      expect.objectContaining({
        id: "https://e.test/pieces/a#remark-t",
        type: "Annotation",
        motivation: "commenting",
        created: "1970-01-01T00:00:00.000Z",
        target: {
          source: "https://e.test/pieces/a#body",
          selector: [
            { type: "TextPositionSelector", start: 3, end: 7 },
            { type: "TextQuoteSelector", exact: "path", prefix: "The", suffix: " up" },
          ],
        },
      }),
      expect.objectContaining({
        motivation: "editing",
        body: [expect.objectContaining({ purpose: "editing", value: "track" }), expect.anything()],
        target: expect.objectContaining({ selector: [expect.objectContaining({ type: "TextQuoteSelector" })] }),
      }),
      expect.objectContaining({
        target: "https://e.test/pieces/a",
        body: [
          expect.objectContaining({ purpose: "commenting" }),
          expect.objectContaining({ purpose: "replying", creator: { type: "Person", name: "Ada" } }),
        ],
      }),
    ],
  });
});
