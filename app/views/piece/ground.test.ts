import { groundOf, type ServerText, supersedes, withSent } from "./ground.ts";

const text = (hash: string, revision = 1): ServerText => ({
  content: { title: hash, fields: {} },
  version: 2,
  hash,
  revision,
  author: "Mina Tauberg",
});

test.each<[string, string[] | undefined, string, string]>([
  ["nothing was sent", undefined, "theirs", "base"],
  ["what was sent arrived unheard", ["mine"], "mine", "mine"],
  ["an earlier sending arrived, the later ones did not", ["first", "second", "third"], "first", "first"],
  ["somebody else wrote meanwhile", ["mine"], "theirs", "base"],
  ["it did not arrive", ["mine"], "base", "base"],
])("%s", (_, unheard, there, ground) => {
  const base = text("base");
  expect(groundOf({ base, ...(unheard && { unheard }) }, text(there, 2)).hash).toBe(ground);
});

test.each<[string, ServerText, ServerText, boolean]>([
  ["a later text", text("b", 3), text("a", 2), true],
  ["an answer overtaken by a later one, of the same version", text("a", 2), text("b", 3), false],
  ["the same words after something else about the piece changed", text("a", 5), text("a", 2), false],
])("%s is shown: %#", (_, there, known, shown) => expect(supersedes(there, known)).toBe(shown));

test("what is sent again is known once, and of very much the latest", () => {
  expect(withSent(["a", "b"], "a")).toEqual(["a", "b"]);
  const all = Array.from({ length: 1_000 }, (_, i) => String(i)).reduce<readonly string[]>(withSent, []);
  expect([all.length, all[0], all.at(-1)]).toEqual([200, "800", "999"]);
});
