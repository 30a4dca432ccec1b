import { getSchema } from "@tiptap/core";
import { manuscriptSchema } from "#core/text/manuscript.ts";
import { extensions } from "./extensions.ts";

test("the editor writes exactly what the core reads", () => {
  const editor = getSchema(extensions(() => ""));
  expect(Object.keys(editor.nodes).sort()).toEqual(Object.keys(manuscriptSchema.nodes).sort());
  expect(Object.keys(editor.marks).sort()).toEqual(Object.keys(manuscriptSchema.marks).sort());
});
