import { can, type Grant, type Holder, type Target } from "./decide.ts";
import { explain, type Names } from "./explain.ts";
import { overlaps } from "./overlaps.ts";
import { extentOf, PERMISSION_GROUPS, PERMISSIONS, type Permission, readHeld, withExtent } from "./permissions.ts";

const NOW = 1_000;
const names: Names = {
  scope: ({ scope }) => (scope.kind === "publication" ? "the whole publication" : scope.id),
  at: (instant) => `day ${instant}`,
  author: "Noor",
  state: "Copy edit",
};
const grant = (more: Partial<Grant> = {}): Grant => ({
  id: "g",
  group: null,
  roleKey: "writer",
  roleName: "Writer",
  permissions: ["piece.edit"],
  scope: { kind: "publication" },
  from: null,
  until: null,
  publishFrom: null,
  publishUntil: null,
  ...more,
});
const piece = (more: Partial<NonNullable<Target["piece"]>> = {}): Target => ({
  sectionIds: ["winter", "routes"],
  kindId: "guide",
  piece: {
    id: "p",
    authorId: "noor",
    private: false,
    publishAt: null,
    assigneeIds: [],
    seatedIds: [],
    viewers: ["anyone"],
    editors: ["anyone"],
    ...more,
  },
});

const DOES: Partial<Record<Permission, string>> = {
  "piece.edit": "change a piece's text",
  "piece.read": "read pieces that are not public",
  "piece.release": "let a piece out to readers",
};

test.each<[string, Grant[], Target, Permission, string[]]>([
  ["allowed by a grant", [grant()], piece(), "piece.edit", ["Through Writer for the whole publication."]],
  [
    "through a group, for a time, for certain dates",
    [grant({ group: "Winter desk", from: 5, until: 2_000, publishFrom: 7, publishUntil: 11 })],
    piece({ publishAt: 8 }),
    "piece.edit",
    [
      "Through Writer for the whole publication, through the group Winter desk, from day 5, until day 1999, for pieces that are to appear from day 7 until day 10.",
    ],
  ],
  ["a seat", [], piece({ seatedIds: ["tobia"] }), "piece.read", [expect.stringContaining("a seat") as never]],
  ["no role", [], piece(), "piece.edit", ["They hold no role."]],
  ["roles that allow other things", [grant()], piece(), "piece.release", ["None of their roles allows it: Writer."]],
  [
    "private",
    [grant()],
    piece({ private: true }),
    "piece.edit",
    ["Its author keeps it to themselves until it is sent."],
  ],
  [
    "the nearest miss first",
    [
      grant({ id: "1", scope: { kind: "section", id: "huts" } }),
      grant({ id: "2", until: 900 }),
      grant({ id: "3", from: 2_000 }),
      grant({ id: "4", permissions: ["piece.edit.own"] }),
      grant({ id: "5" }),
    ],
    piece({ editors: ["role:chief"] }),
    "piece.edit",
    [
      "Writer for the whole publication: it would, but in Copy edit others change the text.",
      "Writer for the whole publication: that is for their own pieces, and this one is Noor’s.",
      "Writer for the whole publication, until day 899: it is over.",
      "Writer for the whole publication, from day 2000: it has not begun.",
      "Writer for huts: this is not among them.",
    ],
  ],
])("why: %s", (_, grants, target, permission, because) => {
  const person: Holder & { name: string } = { id: "tobia", key: "tobia", name: "Tobia", active: true, grants };
  const answer = can(person, permission, target, NOW);
  const said = explain(answer, person, permission, target, names, NOW);
  expect(said.because).toEqual(because);
  expect(said.allowed).toBe(answer.allowed);
  expect(said.sentence).toBe(`Tobia ${answer.allowed ? "may" : "may not"} ${DOES[permission]} here.`);
});

test("an ended person's answer says so", () => {
  const person = { id: "t", key: "t", name: "Tobia", active: false, grants: [grant()] };
  const said = explain(can(person, "piece.edit", piece(), NOW), person, "piece.edit", piece(), names, NOW);
  expect(said.because).toEqual(["Their access has ended."]);
});

const above = (id: string) => (id === "winter" ? ["winter", "routes"] : [id]);
const winter = { kind: "section", id: "winter" } as const;
const routes = { kind: "section", id: "routes" } as const;

test.each<[string, Grant[], { idle: string; by: string }[]]>([
  ["two roles", [grant({ id: "a" }), grant({ id: "b", roleKey: "lead" })], []],
  [
    "a section below the publication",
    [grant({ id: "a", scope: winter }), grant({ id: "b" })],
    [{ idle: "a", by: "b" }],
  ],
  [
    "a section below a section",
    [grant({ id: "a", scope: routes }), grant({ id: "b", scope: winter })],
    [{ idle: "b", by: "a" }],
  ],
  ["the same twice", [grant({ id: "a" }), grant({ id: "b" })], [{ idle: "b", by: "a" }]],
  ["a longer time", [grant({ id: "a", until: 9 }), grant({ id: "b" })], [{ idle: "a", by: "b" }]],
  ["times that cross", [grant({ id: "a", until: 9 }), grant({ id: "b", from: 5 })], []],
  [
    "narrower dates",
    [grant({ id: "a", publishFrom: 5 }), grant({ id: "b", publishFrom: 7 })],
    [{ idle: "b", by: "a" }],
  ],
  [
    "a kind beside a section",
    [grant({ id: "a", scope: winter }), grant({ id: "b", scope: { kind: "kind", id: "guide" } })],
    [],
  ],
])("overlaps: %s", (_, grants, expected) => {
  expect(overlaps(grants, above)).toEqual(expected);
});

test("every permission is in exactly one group, and how far it is held reads back", () => {
  expect(PERMISSION_GROUPS.flatMap((group) => group.permissions).sort()).toEqual(Object.keys(PERMISSIONS).sort());
  const held = withExtent(withExtent([], "piece.read", "own"), "piece.release", "yes");
  expect([extentOf(held, "piece.read"), extentOf(held, "piece.release"), extentOf(held, "piece.edit")]).toEqual([
    "own",
    "yes",
    "no",
  ]);
  expect(extentOf(withExtent(held, "piece.release", "own"), "piece.release")).toBe("yes");
  expect(withExtent(held, "piece.read", "no")).toEqual(["piece.release"]);
});

test.each<[string[], string[] | null]>([
  [
    ["piece.read", "piece.edit.own", "piece.read"],
    ["piece.edit.own", "piece.read"],
  ],
  [["piece.fly"], null],
  [["piece.release.own"], null],
  [[], []],
])("what a role is to allow is read: %j", (given, expected) => {
  expect(readHeld(given)).toEqual(expected);
});
