import { getSchema } from "@tiptap/core";
import { manuscriptSchema } from "#core/text/manuscript.ts";
import { EXTENSIONS } from "./extensions.ts";

test("the editor writes exactly what the core reads", () => {
  const editor = getSchema(EXTENSIONS);
  expect(Object.keys(editor.nodes).sort()).toEqual(Object.keys(manuscriptSchema.nodes).sort());
  expect(Object.keys(editor.marks).sort()).toEqual(Object.keys(manuscriptSchema.marks).sort());
});
