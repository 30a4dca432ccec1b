import fc from "fast-check";
import {
  appliedWorkflow,
  type Binding,
  below,
  lineage,
  pathName,
  type Section,
  sayBinding,
  type Tree,
} from "./tree.ts";

const section = (id: string, parentId: string | null, name = id): [string, Section] => [
  id,
  { id, key: id, name, parentId, position: 0, revision: 1 },
];
const set = (
  scope: Binding["scope"],
  scopeId: string,
  workflow: string,
  days: [string | null, string | null] = [null, null],
) => ({ scope, scopeId, workflowId: workflow, workflow, validFrom: days[0], validUntil: days[1] }) satisfies Binding;

const treeOf = (sections: readonly [string, Section][], bindings: readonly Binding[] = []): Tree => ({
  publicationId: "all",
  name: "Fontelba Trails",
  sections: new Map(sections),
  bindings,
});
const SECTIONS = [
  section("routes", null, "Routes"),
  section("winter", "routes", "Winter"),
  section("snowshoe", "winter", "Snowshoe"),
  section("huts", null, "Huts"),
];
const tree = treeOf(SECTIONS);
const ids = (all: readonly Section[]) => all.map((one) => one.id);

test.each([
  ["snowshoe", ["snowshoe", "winter", "routes"], "Routes / Winter / Snowshoe"],
  ["routes", ["routes"], "Routes"],
  ["gone", [], ""],
])("above %s stand %j: %s", (id, above, name) => {
  expect(ids(lineage(tree, id))).toEqual(above);
  expect(pathName(tree, id)).toBe(name);
});

test.each([
  ["routes", ["routes", "winter", "snowshoe"]],
  ["snowshoe", ["snowshoe"]],
  ["huts", ["huts"]],
  ["gone", []],
])("below %s lie %j", (id, all) => expect(below(tree, id)).toEqual(all));

test("sections that stand above each other in a circle, or above none, hold nobody up", () => {
  const circle = treeOf([section("a", "b"), section("b", "c"), section("c", "a"), section("lost", "gone")]);
  expect(ids(lineage(circle, "a"))).toEqual(["a", "b", "c"]);
  expect(below(circle, "a").sort()).toEqual(["a", "b", "c"]);
  expect(ids(lineage(circle, "lost"))).toEqual(["lost"]);
});

test("whatever the tree, one lies below another exactly where the other stands above it", () => {
  const parents = fc.array(fc.option(fc.nat(11)), { minLength: 1, maxLength: 12 });
  fc.assert(
    fc.property(parents, (all) => {
      const some = treeOf(all.map((parent, i) => section(String(i), parent === null ? null : String(parent))));
      for (const one of some.sections.keys())
        for (const other of some.sections.keys())
          expect(below(some, one).includes(other)).toBe(ids(lineage(some, other)).includes(one));
    }),
  );
});

const TODAY = "2026-11-24";

test.each<[string, Binding[], string | null, string | null, string | null, string[]]>([
  ["nothing is set", [], "winter", "guide", null, []],
  ["the publication's holds everywhere", [set("publication", "all", "plain")], "snowshoe", "guide", "plain", []],
  [
    "the nearest section's goes before those above it",
    [set("publication", "all", "plain"), set("section", "routes", "far"), set("section", "winter", "near")],
    "snowshoe",
    null,
    "near",
    [],
  ],
  ["another section's holds not here", [set("section", "huts", "huts")], "snowshoe", null, null, []],
  [
    "the kind's goes before the section's",
    [set("section", "winter", "near"), set("kind", "guide", "kind")],
    "winter",
    "guide",
    "kind",
    [],
  ],
  [
    "for a section alone the kind's is not asked",
    [set("section", "winter", "near"), set("kind", "guide", "kind")],
    "winter",
    null,
    "near",
    [],
  ],
  [
    "what is over is passed by, and said",
    [set("section", "winter", "summer", ["2026-04-01", "2026-10-31"]), set("publication", "all", "plain")],
    "winter",
    null,
    "plain",
    ["summer"],
  ],
  [
    "what has not begun is passed by too",
    [set("kind", "guide", "next", ["2026-11-25", null]), set("section", "winter", "near")],
    "winter",
    "guide",
    "near",
    ["next"],
  ],
  ["its first day and its last are in it", [set("publication", "all", "day", [TODAY, TODAY])], null, null, "day", []],
  [
    "without a section the publication's is asked",
    [set("section", "winter", "near"), set("publication", "all", "plain")],
    null,
    null,
    "plain",
    [],
  ],
])("%s", (_, bindings, sectionId, kindId, workflow, passedBy) => {
  const applied = appliedWorkflow(treeOf(SECTIONS, bindings), sectionId, kindId, TODAY);
  expect(applied?.binding.workflow ?? null).toBe(workflow);
  expect(applied?.passedBy.map((one) => one.workflow) ?? []).toEqual(passedBy);
});

test.each<[Binding, string]>([
  [set("section", "winter", "w"), "Routes / Winter"],
  [set("kind", "guide", "w"), "every route guide"],
  [set("kind", "gone", "w"), "every piece of that kind"],
  [set("publication", "all", "w"), "Fontelba Trails"],
])("it is said where one is set: %#", (binding, said) => {
  expect(sayBinding(tree, binding, new Map([["guide", "Route guide"]]))).toBe(said);
});
