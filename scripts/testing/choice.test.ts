import { chosenOf, PARTS, partOf } from "./choice.ts";

const chosen = (...asked: string[]) => {
  const found = chosenOf(asked);
  if ("problem" in found) throw new Error(found.problem);
  return found;
};

test("without a name it is every part and every file", () => {
  const all = chosen();
  expect([...all.parts]).toEqual([...PARTS]);
  expect(new Set(all.files.map(partOf))).toEqual(new Set(["unit", "server", "e2e"]));
  expect(all).toMatchObject({ reversed: false, each: false, coverage: false });
});

test("a part brings its files, and words in a path bring the files and their part", () => {
  const server = chosen("server");
  expect([...server.parts]).toEqual(["server"]);
  expect(server.files.every((file) => file.startsWith("tests/server/"))).toBe(true);
  const named = chosen("testing/choice", "lint", "--reversed");
  expect([...named.parts].toSorted()).toEqual(["lint", "unit"]);
  expect(named).toMatchObject({ files: ["scripts/testing/choice.test.ts"], reversed: true });
});

test.each([[["nowhere-at-all"]], [["--quickly"]]])("%j is said to be unknown", (asked) => {
  expect(chosenOf(asked)).toEqual({ problem: expect.stringContaining(asked[0] as string) });
});
