import type { Field } from "#core/text/field.ts";
import type { Content } from "#core/text/fields.ts";
import { GivenUp } from "../apart/turns.ts";
import { picturesOf } from "./document-pictures.ts";

const fields = [{ key: "lead", name: "Lead", type: "image", required: false }] as Field[];
const shows = (file: string) => ({
  fields,
  content: { title: "One", fields: { lead: { file, alt: "A hut", caption: "", credit: "" } } } as unknown as Content,
});
const many = (count: number, id: (i: number) => string) => Array.from({ length: count }, (_, i) => shows(id(i)));

test("more pictures than one file takes are refused before any is read; the same one twice counts once", async () => {
  await expect(
    picturesOf(
      "/nowhere",
      many(201, (i) => `picture-${i}`),
    ),
  ).rejects.toThrow(GivenUp);
  expect(
    await picturesOf(
      "/nowhere",
      many(500, () => "0".repeat(64)),
    ),
  ).toEqual(new Map());
  expect(await picturesOf("/nowhere", [])).toEqual(new Map());
});
