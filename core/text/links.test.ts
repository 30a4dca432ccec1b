import { linksOf } from "./links.ts";
import type { Manuscript } from "./manuscript.ts";

test("the addresses a text leads to, each once, from lists and notes too", () => {
  const linked = (href: string) => ({
    type: "text",
    text: "there",
    marks: [{ type: "strong" }, { type: "link", attrs: { href } }],
  });
  const body = {
    type: "doc",
    content: [
      { type: "paragraph", content: [linked("/read/one"), { type: "text", text: " and " }, linked("/read/two")] },
      {
        type: "bulletList",
        content: [{ type: "listItem", content: [{ type: "paragraph", content: [linked("/read/one")] }] }],
      },
    ],
  } as unknown as Manuscript;
  expect(linksOf({ title: "A", fields: { body, line: "/read/three" } } as never)).toEqual(["/read/one", "/read/two"]);
});
