import fc from "fast-check";
import { can, type Grant, type Holder, principalsOf, type Target } from "./decide.ts";
import { PERMISSIONS, READY_ROLES } from "./permissions.ts";

const NOW = 1_000_000;
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
const holder = (grants: Grant[], more: Partial<Holder> = {}): Holder => ({
  id: "me",
  key: "me",
  active: true,
  grants,
  ...more,
});
const target = (more: Partial<NonNullable<Target["piece"]>> = {}): Target => ({
  sectionIds: ["winter", "routes"],
  kindId: "guide",
  piece: {
    id: "p",
    authorId: "other",
    private: false,
    publishAt: null,
    assigneeIds: [],
    seatedIds: [],
    viewers: ["anyone"],
    editors: ["anyone"],
    ...more,
  },
});

/** An answer in short: `yes`, or the miss. */
const short = (person: Holder, permission: Parameters<typeof can>[1], on: Target) => {
  const answer = can(person, permission, on, NOW);
  return answer.allowed ? "yes" : answer.miss;
};

test.each<[string, Grant[], Target, string]>([
  ["no grant at all", [], target(), "not-granted"],
  ["a role without the permission", [grant({ permissions: ["piece.read"] })], target(), "not-granted"],
  ["for the publication", [grant()], target(), "yes"],
  ["for a section above", [grant({ scope: { kind: "section", id: "routes" } })], target(), "yes"],
  ["for another section", [grant({ scope: { kind: "section", id: "huts" } })], target(), "elsewhere"],
  ["for the kind", [grant({ scope: { kind: "kind", id: "guide" } })], target(), "yes"],
  ["for the piece", [grant({ scope: { kind: "piece", id: "p" } })], target(), "yes"],
  ["for another piece", [grant({ scope: { kind: "piece", id: "q" } })], target(), "elsewhere"],
  ["from now on", [grant({ from: NOW })], target(), "yes"],
  ["from later on", [grant({ from: NOW + 1 })], target(), "expired"],
  ["until just now", [grant({ until: NOW })], target(), "expired"],
  ["own only, on another's", [grant({ permissions: ["piece.edit.own"] })], target(), "own-only"],
  ["own only, on one's own", [grant({ permissions: ["piece.edit.own"] })], target({ authorId: "me" }), "yes"],
  ["for dates the piece's date lies in", [grant({ publishFrom: 5, publishUntil: 9 })], target({ publishAt: 5 }), "yes"],
  ["for dates it does not lie in", [grant({ publishFrom: 5, publishUntil: 9 })], target({ publishAt: 9 }), "elsewhere"],
  ["for dates, on a piece without one", [grant({ publishFrom: 5 })], target(), "elsewhere"],
  ["in a state that lets nobody edit", [grant()], target({ editors: [] }), "wrong-state"],
  ["in a state that lets one's role edit", [grant()], target({ editors: ["role:writer"] }), "yes"],
  ["in a state that lets the assigned edit", [grant()], target({ editors: ["assignee"], assigneeIds: ["me"] }), "yes"],
  [
    "the nearest of several misses",
    [grant({ permissions: [] }), grant({ until: 1 }), grant({ scope: { kind: "kind", id: "x" } })],
    target(),
    "expired",
  ],
  ["one grant among several that helps", [grant({ until: 1 }), grant()], target(), "yes"],
])("editing: %s", (_, grants, on, expected) => {
  expect(short(holder(grants), "piece.edit", on)).toBe(expected);
});

test.each<[string, Target, string]>([
  ["another's private piece", target({ private: true }), "not-granted"],
  ["one's own private piece", target({ private: true, authorId: "me" }), "yes"],
  ["a piece one has a seat on", target({ seatedIds: ["me"], viewers: [] }), "yes"],
  ["a piece assigned to one", target({ assigneeIds: ["me"] }), "yes"],
  ["any other", target(), "not-granted"],
])("reading without a grant: %s", (_, on, expected) => {
  expect(short(holder([]), "piece.read", on)).toBe(expected);
});

test("a seat lets one comment but not edit or send", () => {
  const on = target({ seatedIds: ["me"] });
  expect(
    (["piece.comment", "piece.edit", "piece.send"] as const).map((permission) => short(holder([]), permission, on)),
  ).toEqual(["yes", "not-granted", "not-granted"]);
});

test("an ended person may do nothing, and the answer names the grant that allowed", () => {
  expect(short(holder([grant()], { active: false }), "piece.edit", target())).toBe("expired");
  expect(can(holder([grant({ id: "x" })]), "piece.edit", target(), NOW)).toMatchObject({
    allowed: true,
    through: { id: "x" },
  });
});

test("principals: who one is, and the roles one holds here and now", () => {
  const me = holder([
    grant(),
    grant({ roleKey: "old", until: 1 }),
    grant({ roleKey: "far", scope: { kind: "section", id: "huts" } }),
  ]);
  expect([...principalsOf(me, target({ authorId: "me" }), NOW)].sort()).toEqual(["author", "person:me", "role:writer"]);
});

test("another grant never takes away what one allows", () =>
  fc.assert(
    fc.property(
      fc.constantFrom(...(Object.keys(PERMISSIONS) as (keyof typeof PERMISSIONS)[])),
      fc.array(fc.constantFrom(...READY_ROLES), { maxLength: 4 }),
      fc.constantFrom(...READY_ROLES),
      (permission, held, more) => {
        const asGrants = (roles: readonly (typeof READY_ROLES)[number][]) =>
          roles.map((role) => grant({ permissions: role.permissions, roleKey: role.key }));
        if (short(holder(asGrants(held)), permission, target()) === "yes")
          expect(short(holder(asGrants([more, ...held])), permission, target())).toBe("yes");
      },
    ),
  ));
