import { across } from "./across.ts";
import type { Field } from "./field.ts";
import type { Content } from "./fields.ts";

const field = (key: string, type: Field["type"]): Field => ({ key, name: key, type, required: false });
const GUIDE = [field("standfirst", "line"), field("body", "manuscript"), field("distance", "number")];
const text = { type: "doc", content: [{ type: "paragraph", content: [{ type: "text", text: "Over the bridge." }] }] };
const content: Content = { title: "T", fields: { standfirst: "A walk", body: text, distance: 9 } };
const keys = (fields: readonly Field[]) => fields.map((one) => one.key);

test.each<[string, Field[], Content["fields"], string[]]>([
  ["the same kind", GUIDE, content.fields, []],
  ["a kind with other fields", [field("season", "line")], {}, ["standfirst", "body", "distance"]],
  ["a field of one name and another type", [field("distance", "line")], {}, ["standfirst", "body", "distance"]],
  ["a kind whose text has another name", [field("story", "manuscript")], { story: text }, ["standfirst", "distance"]],
  [
    "a kind that takes its text by name, and has another",
    [field("box", "manuscript"), field("body", "manuscript")],
    { body: text },
    ["standfirst", "distance"],
  ],
])("%s takes what it has room for", (_, into, fields, left) => {
  const carried = across(GUIDE, content, into);
  expect(carried.fields).toEqual(fields);
  expect(keys(carried.left)).toEqual(left);
});

test("what is empty is neither taken nor left", () => {
  expect(across(GUIDE, { title: "T", fields: {} }, GUIDE)).toEqual({ fields: {}, left: [] });
});
