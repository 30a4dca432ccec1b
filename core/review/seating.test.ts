import fc from "fast-check";
import type { Review } from "../workflow/document.ts";
import { type Candidate, candidates, seat } from "./seating.ts";

const person = (id: string, more: Partial<Candidate> = {}): Candidate => ({
  id,
  key: id,
  name: id.toUpperCase(),
  active: true,
  roles: ["checker"],
  load: 0,
  away: false,
  standInId: null,
  decides: true,
  ...more,
});
const review = (seats: Review["seats"], more: Partial<Review> = {}): Review => ({
  rule: "all",
  seats,
  authorMayDecide: false,
  approve: "ok",
  return: "back",
  remind: [],
  ...more,
});
const everyone: Review["seats"] = [{ role: "checker", pick: "everyone" }];

/** Seats in short: `a`, `b for a`, `a void`, `a flagged`. */
function seated(of: Review, people: Candidate[], author = "author", chosen: string[] = []) {
  const result = seat(of, people, author, chosen);
  if (!result.ok) return result.refusal.code;
  return result.value.map((one) =>
    [one.personId, one.forPersonId && `for ${one.forPersonId}`, one.voidReason && "void", one.flag && "flagged"]
      .filter(Boolean)
      .join(" "),
  );
}

test("a person, everyone with a role, the least busy, whom the sender picks", () => {
  const people = [
    person("a", { load: 3 }),
    person("b", { load: 1 }),
    person("c", { roles: [] }),
    person("d", { active: false }),
  ];
  expect(seated(review([{ person: "c" }]), people)).toEqual(["c"]);
  expect(seated(review(everyone), people)).toEqual(["a", "b"]);
  expect(seated(review([{ role: "checker", pick: "least-busy", number: 1 }]), people)).toEqual(["b"]);
  expect(seated(review([{ role: "checker", pick: "sender", number: 1 }]), people, "author", ["a"])).toEqual(["a"]);
  expect(seated(review([{ role: "checker", pick: "sender", number: 1 }]), people)).toBe("reviewer-missing");
  expect(seated(review([{ role: "checker", pick: "sender", number: 1 }]), people, "author", ["a", "c"])).toBe(
    "not-a-candidate",
  );
  expect(seated(review([{ person: "b" }, ...everyone]), people)).toEqual(["b", "a"]);
});

test("the author's seat is void, unless the review allows it", () => {
  expect(seated(review(everyone), [person("a"), person("b")], "a")).toEqual(["a void", "b"]);
  expect(seated(review(everyone, { authorMayDecide: true }), [person("a"), person("b")], "a")).toEqual(["a", "b"]);
});

describe("absence", () => {
  const away = (id: string, standInId: string | null) => person(id, { away: true, standInId });
  test.each([
    ["a stand-in takes the seat", [away("a", "s"), person("s", { roles: [] })], ["s for a"]],
    [
      "through a stand-in who is away too",
      [away("a", "s"), { ...away("s", "t"), roles: [] }, person("t", { roles: [] })],
      ["t for a"],
    ],
    ["nobody stands in: it stays and is flagged", [away("a", null)], ["a flagged"]],
    [
      "a circle of absent people: it stays and is flagged",
      [away("a", "s"), { ...away("s", "a"), roles: [] }],
      ["a flagged"],
    ],
    ["never onto the author", [away("a", "author"), person("author", { roles: [] })], ["a flagged"]],
    [
      "past the author to who stands in for them",
      [away("a", "author"), person("author", { roles: [], standInId: "t" }), person("t", { roles: [] })],
      ["t for a"],
    ],
    ["a stand-in who already sits does not sit twice", [away("a", "b"), person("b")], ["a flagged", "b"]],
    [
      "past a stand-in who already sits to theirs",
      [away("a", "b"), person("b", { standInId: "c" }), person("c", { roles: [] })],
      ["c for a", "b"],
    ],
  ])("%s", (_, people, expected) => {
    expect(seated(review(everyone), people)).toEqual(expected);
  });

  test("no chain of stand-ins seats the author or goes on for ever", () =>
    fc.assert(
      fc.property(
        fc.array(fc.record({ away: fc.boolean(), standIn: fc.integer({ min: 0, max: 6 }) }), {
          minLength: 1,
          maxLength: 6,
        }),
        (rows) => {
          const people = rows.map((row, i) => person(String(i), { away: row.away, standInId: String(row.standIn) }));
          const result = seat(review(everyone), people, "0", []);
          expect(result.ok).toBe(true);
          if (result.ok) for (const one of result.value) if (!one.voidReason) expect(one.personId).not.toBe("0");
        },
      ),
    ));
});

test("nobody is picked for two seats where another could hold one", () => {
  const people = [
    person("a", { roles: ["checker", "copy-editor"] }),
    person("b", { roles: ["checker"], load: 5 }),
    person("c", { roles: ["copy-editor"], load: 9, active: false }),
  ];
  const least = (role: string) => ({ role, pick: "least-busy" as const, number: 1 });
  expect(seated(review([least("checker"), least("copy-editor")]), people)).toEqual(["b", "a"]);
  expect(seated(review([least("checker"), { person: "a" }]), people)).toEqual(["b", "a"]);
  expect(seated(review([least("checker"), least("checker"), least("checker")]), people)).toEqual(["a", "b"]);
});

test("who may not decide is not picked, and a seat of theirs is flagged", () => {
  const people = [person("a", { decides: false }), person("b")];
  expect(seated(review([{ role: "checker", pick: "least-busy", number: 1 }]), people)).toEqual(["b"]);
  expect(seated(review([{ person: "a" }]), people)).toEqual(["a flagged"]);
});

test("candidates stand by how little waits on them, the absent last", () => {
  const people = [
    person("a", { load: 2 }),
    person("b", { away: true }),
    person("c", { load: 1 }),
    person("d", { roles: [] }),
  ];
  expect(candidates({ role: "checker", pick: "sender" }, people, "c", false).map((one) => one.id)).toEqual(["a", "b"]);
  expect(candidates({ role: "checker", pick: "sender" }, people, "c", true).map((one) => one.id)).toEqual([
    "c",
    "a",
    "b",
  ]);
});
