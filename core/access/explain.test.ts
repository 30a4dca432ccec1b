import { can, type Grant, type Holder, type Target } from "./decide.ts";
import { explain, type Names } from "./explain.ts";
import { overlaps } from "./overlaps.ts";
import { extentOf, PERMISSION_GROUPS, PERMISSIONS, type Permission, readHeld, withExtent } from "./permissions.ts";
import { aGrant, aPiece } from "./samples.ts";

const NOW = 1_000;
const names: Names = {
  scope: ({ scope }) => (scope.kind === "publication" ? "the whole publication" : scope.id),
  at: (instant) => `day ${instant}`,
  author: "Noor",
  state: "Copy edit",
};
const DOES: Partial<Record<Permission, string>> = {
  "piece.edit": "change a piece's text",
  "piece.read": "read pieces that are not public",
  "piece.release": "let a piece out to readers",
};

test.each<[string, Grant[], Target, Permission, string[]]>([
  ["allowed by a grant", [aGrant()], aPiece(), "piece.edit", ["Through Writer for the whole publication."]],
  [
    "through a group, for a time, for certain dates",
    [aGrant({ group: "Winter desk", from: 5, until: 2_000, publishFrom: 7, publishUntil: 11 })],
    aPiece({ publishAt: 8 }),
    "piece.edit",
    [
      "Through Writer for the whole publication, through the group Winter desk, from day 5, until day 1999, for pieces that are to appear from day 7 until day 10.",
    ],
  ],
  ["a seat", [], aPiece({ seatedIds: ["tobia"] }), "piece.read", [expect.stringContaining("a seat") as never]],
  ["no role", [], aPiece(), "piece.edit", ["They hold no role."]],
  ["roles that allow other things", [aGrant()], aPiece(), "piece.release", ["None of their roles allows it: Writer."]],
  [
    "private",
    [aGrant()],
    aPiece({ private: true }),
    "piece.edit",
    ["Its author keeps it to themselves until it is sent."],
  ],
  [
    "the nearest miss first",
    [
      aGrant({ id: "1", scope: { kind: "section", id: "huts" } }),
      aGrant({ id: "2", until: 900 }),
      aGrant({ id: "3", from: 2_000 }),
      aGrant({ id: "4", permissions: ["piece.edit.own"] }),
      aGrant({ id: "5" }),
    ],
    aPiece({ editors: ["role:chief"] }),
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
  const person = { id: "t", key: "t", name: "Tobia", active: false, grants: [aGrant()] };
  const said = explain(can(person, "piece.edit", aPiece(), NOW), person, "piece.edit", aPiece(), names, NOW);
  expect(said.because).toEqual(["Their access has ended."]);
});

const above = (id: string) => (id === "winter" ? ["winter", "routes"] : [id]);
const winter = { kind: "section", id: "winter" } as const;
const routes = { kind: "section", id: "routes" } as const;

test.each<[string, Grant[], { idle: string; by: string }[]]>([
  ["two roles", [aGrant({ id: "a" }), aGrant({ id: "b", roleKey: "lead" })], []],
  [
    "a section below the publication",
    [aGrant({ id: "a", scope: winter }), aGrant({ id: "b" })],
    [{ idle: "a", by: "b" }],
  ],
  [
    "a section below a section",
    [aGrant({ id: "a", scope: routes }), aGrant({ id: "b", scope: winter })],
    [{ idle: "b", by: "a" }],
  ],
  ["the same twice", [aGrant({ id: "a" }), aGrant({ id: "b" })], [{ idle: "b", by: "a" }]],
  ["a longer time", [aGrant({ id: "a", until: 9 }), aGrant({ id: "b" })], [{ idle: "a", by: "b" }]],
  ["times that cross", [aGrant({ id: "a", until: 9 }), aGrant({ id: "b", from: 5 })], []],
  [
    "narrower dates",
    [aGrant({ id: "a", publishFrom: 5 }), aGrant({ id: "b", publishFrom: 7 })],
    [{ idle: "b", by: "a" }],
  ],
  [
    "a kind beside a section",
    [aGrant({ id: "a", scope: winter }), aGrant({ id: "b", scope: { kind: "kind", id: "guide" } })],
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
