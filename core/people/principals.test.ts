import fc from "fast-check";
import {
  assignedSchema,
  type Cast,
  type Member,
  meaningOf,
  peopleMeant,
  principalSchema,
  sayPrincipal,
} from "./principals.ts";

const member = (key: string, more: Partial<Member> = {}): Member => ({
  id: `id-${key}`,
  key,
  name: key,
  active: true,
  roles: [],
  load: 0,
  away: false,
  ...more,
});

const people = [
  member("ada", { roles: ["check"], load: 3 }),
  member("bruno", { roles: ["check", "edit"], load: 1, away: true }),
  member("carla", { roles: ["check"], load: 3 }),
  member("dino", { roles: ["edit"], active: false }),
];
const cast: Cast = { authorId: "id-carla", assigneeIds: ["id-ada", "id-bruno"], people };

test.each<[principals: string[], ids: string[]]>([
  [[], []],
  [["anyone"], []],
  [["author"], ["id-carla"]],
  [["assignee"], ["id-ada", "id-bruno"]],
  [["person:ada"], ["id-ada"]],
  [["person:dino"], []],
  [["person:unheard-of"], []],
  [["role:check"], ["id-ada", "id-bruno", "id-carla"]],
  [["role:edit"], ["id-bruno"]],
  [["least-busy:check"], ["id-ada"]],
  [["least-busy:edit"], ["id-bruno"]],
  [["least-busy:none"], []],
  [
    ["author", "role:check", "person:carla"],
    ["id-carla", "id-ada", "id-bruno"],
  ],
])("%j means %j", (principals, ids) => expect(peopleMeant(principals, cast)).toEqual(ids));

test("a piece without an author has none, and one nobody has is nobody's", () => {
  expect(peopleMeant(["author", "assignee"], { authorId: null, assigneeIds: [], people })).toEqual([]);
});

test.each<[principal: string, author: string | undefined, words: string]>([
  ["author", undefined, "the author"],
  ["author", "Noor", "Noor"],
  ["assignee", undefined, "whoever has it"],
  ["anyone", undefined, "anyone"],
  ["role:check", undefined, "role check"],
  ["person:ada", undefined, "person ada"],
  ["least-busy:check", undefined, "the least busy of role check"],
])("%s by %s is said as: %s", (principal, author, words) => {
  const names = { role: (key: string) => `role ${key}`, person: (key: string) => `person ${key}`, author };
  expect(sayPrincipal(principal, names)).toBe(words);
});

test.each<[text: string, rule: boolean, arrival: boolean]>([
  ["author", true, true],
  ["role:route-check", true, true],
  ["person:ada", true, true],
  ["least-busy:check", false, true],
  ["role:", false, false],
  ["role:Check", false, false],
  ["role:a--b", false, false],
  ["role:check ", false, false],
  ["somebody", false, false],
  ["author:ada", false, false],
  ["", false, false],
])("%j is a principal of a rule: %s, on arrival: %s", (text, rule, arrival) => {
  expect([principalSchema.safeParse(text).success, assignedSchema.safeParse(text).success]).toEqual([rule, arrival]);
});

describe("laws", () => {
  const key = fc.stringMatching(/^[a-z0-9]{1,5}(-[a-z0-9]{1,4})?$/);
  test("what is taken apart is put together again", () =>
    fc.assert(
      fc.property(fc.constantFrom("role", "person", "least-busy"), key, (sort, of) => {
        expect(meaningOf(`${sort}:${of}`)).toEqual({ sort, key: of });
      }),
    ));

  test("the least busy of a role is at work if anybody is, and nobody at work has less", () => {
    const somebody = fc.record({ key, load: fc.integer({ min: 0, max: 5 }), away: fc.boolean(), active: fc.boolean() });
    fc.assert(
      fc.property(fc.uniqueArray(somebody, { selector: (one) => one.key, maxLength: 6 }), (some) => {
        const all = some.map((one) => member(one.key, { ...one, roles: ["check"] }));
        const able = all.filter((one) => one.active);
        const [id] = peopleMeant(["least-busy:check"], { authorId: null, assigneeIds: [], people: all });
        const found = all.find((one) => one.id === id);
        expect(found === undefined).toBe(able.length === 0);
        if (!found) return;
        expect(found.active).toBe(true);
        expect(found.away && able.some((one) => !one.away)).toBe(false);
        for (const one of able) if (one.away === found.away) expect(one.load).toBeGreaterThanOrEqual(found.load);
      }),
    );
  });
});
