import fc from "fast-check";
import { columnsOf, rowsOf } from "./packed.ts";

const row = fc.record({
  text: fc.oneof(fc.string(), fc.constantFrom("", "a", "a¦b", "¦[]", "1")),
  at: fc.oneof(fc.integer(), fc.constant(1)),
  held: fc.oneof(fc.constant(null), fc.array(fc.constantFrom("x", "y¦"), { maxLength: 2 })),
  yes: fc.boolean(),
});

test("what goes as columns comes back as rows, over the wire", () => {
  fc.assert(
    fc.property(fc.array(row), (rows) => {
      expect(rowsOf(JSON.parse(JSON.stringify(columnsOf(rows))))).toEqual(rows);
    }),
  );
});

test("what many hold is written once", () => {
  const rows = Array.from({ length: 1_000 }, (_, i) => ({ id: `id ${i}`, section: "the same long name", holds: [] }));
  const sent = columnsOf(rows);
  expect(sent.texts.match(/the same/g)).toHaveLength(1);
  expect(sent.others).toEqual([[]]);
  expect(JSON.stringify(sent).length).toBeLessThan(JSON.stringify(rows).length / 4);
});
