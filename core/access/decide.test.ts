import fc from "fast-check";
import { can, type Grant, type Holder, principalsOf, type Target } from "./decide.ts";
import { PERMISSIONS, READY_ROLES } from "./permissions.ts";
import { aGrant, aPiece } from "./samples.ts";

const NOW = 1_000_000;
const holder = (grants: Grant[], more: Partial<Holder> = {}): Holder => ({
  id: "me",
  key: "me",
  active: true,
  grants,
  ...more,
});
/** An answer in short: `yes`, or the miss. */
const short = (person: Holder, permission: Parameters<typeof can>[1], on: Target) => {
  const answer = can(person, permission, on, NOW);
  return answer.allowed ? "yes" : answer.miss;
};

test.each<[string, Grant[], Target, string]>([
  ["no grant at all", [], aPiece(), "not-granted"],
  ["a role without the permission", [aGrant({ permissions: ["piece.read"] })], aPiece(), "not-granted"],
  ["for the publication", [aGrant()], aPiece(), "yes"],
  ["for a section above", [aGrant({ scope: { kind: "section", id: "routes" } })], aPiece(), "yes"],
  ["for another section", [aGrant({ scope: { kind: "section", id: "huts" } })], aPiece(), "elsewhere"],
  ["for the kind", [aGrant({ scope: { kind: "kind", id: "guide" } })], aPiece(), "yes"],
  ["for the piece", [aGrant({ scope: { kind: "piece", id: "p" } })], aPiece(), "yes"],
  ["for another piece", [aGrant({ scope: { kind: "piece", id: "q" } })], aPiece(), "elsewhere"],
  ["from now on", [aGrant({ from: NOW })], aPiece(), "yes"],
  ["from later on", [aGrant({ from: NOW + 1 })], aPiece(), "expired"],
  ["until just now", [aGrant({ until: NOW })], aPiece(), "expired"],
  ["own only, on another's", [aGrant({ permissions: ["piece.edit.own"] })], aPiece(), "own-only"],
  ["own only, on one's own", [aGrant({ permissions: ["piece.edit.own"] })], aPiece({ authorId: "me" }), "yes"],
  [
    "for dates the piece's date lies in",
    [aGrant({ publishFrom: 5, publishUntil: 9 })],
    aPiece({ publishAt: 5 }),
    "yes",
  ],
  [
    "for dates it does not lie in",
    [aGrant({ publishFrom: 5, publishUntil: 9 })],
    aPiece({ publishAt: 9 }),
    "elsewhere",
  ],
  ["for dates, on a piece without one", [aGrant({ publishFrom: 5 })], aPiece(), "elsewhere"],
  ["in a state that lets nobody edit", [aGrant()], aPiece({ editors: [] }), "wrong-state"],
  ["in a state that lets one's role edit", [aGrant()], aPiece({ editors: ["role:writer"] }), "yes"],
  ["in a state that lets the assigned edit", [aGrant()], aPiece({ editors: ["assignee"], assigneeIds: ["me"] }), "yes"],
  [
    "the nearest of several misses",
    [aGrant({ permissions: [] }), aGrant({ until: 1 }), aGrant({ scope: { kind: "kind", id: "x" } })],
    aPiece(),
    "expired",
  ],
  ["one grant among several that helps", [aGrant({ until: 1 }), aGrant()], aPiece(), "yes"],
])("editing: %s", (_, grants, on, expected) => {
  expect(short(holder(grants), "piece.edit", on)).toBe(expected);
});

test.each<[string, Target, string]>([
  ["another's private piece", aPiece({ private: true }), "not-granted"],
  ["one's own private piece", aPiece({ private: true, authorId: "me" }), "yes"],
  ["a piece one has a seat on", aPiece({ seatedIds: ["me"], viewers: [] }), "yes"],
  ["a piece assigned to one", aPiece({ assigneeIds: ["me"] }), "yes"],
  ["any other", aPiece(), "not-granted"],
])("reading without a grant: %s", (_, on, expected) => {
  expect(short(holder([]), "piece.read", on)).toBe(expected);
});

test("a seat lets one comment but not edit or send", () => {
  const on = aPiece({ seatedIds: ["me"] });
  expect(
    (["piece.comment", "piece.edit", "piece.send"] as const).map((permission) => short(holder([]), permission, on)),
  ).toEqual(["yes", "not-granted", "not-granted"]);
});

test("an ended person may do nothing, and the answer names the grant that allowed", () => {
  expect(short(holder([aGrant()], { active: false }), "piece.edit", aPiece())).toBe("expired");
  expect(can(holder([aGrant({ id: "x" })]), "piece.edit", aPiece(), NOW)).toMatchObject({
    allowed: true,
    through: { id: "x" },
  });
});

test("principals: who one is, and the roles one holds here and now", () => {
  const me = holder([
    aGrant(),
    aGrant({ roleKey: "old", until: 1 }),
    aGrant({ roleKey: "far", scope: { kind: "section", id: "huts" } }),
  ]);
  expect([...principalsOf(me, aPiece({ authorId: "me" }), NOW)].sort()).toEqual(["author", "person:me", "role:writer"]);
});

test("another grant never takes away what one allows", () =>
  fc.assert(
    fc.property(
      fc.constantFrom(...(Object.keys(PERMISSIONS) as (keyof typeof PERMISSIONS)[])),
      fc.array(fc.constantFrom(...READY_ROLES), { maxLength: 4 }),
      fc.constantFrom(...READY_ROLES),
      (permission, held, more) => {
        const asGrants = (roles: readonly (typeof READY_ROLES)[number][]) =>
          roles.map((role) => aGrant({ permissions: role.permissions, roleKey: role.key }));
        if (short(holder(asGrants(held)), permission, aPiece()) === "yes")
          expect(short(holder(asGrants([more, ...held])), permission, aPiece())).toBe("yes");
      },
    ),
  ));
