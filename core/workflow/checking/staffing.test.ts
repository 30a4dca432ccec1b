import fc from "fast-check";
import type { Review, SeatRule } from "../document.ts";
import { canPass, holders, mostApprovals, resolve, type Staff, stuckAuthors, takeable } from "./staffing.ts";

const PEOPLE = ["ada", "bruno", "carla", "dino"] as const;

/** People at work by role; all of them may begin pieces unless others are named. */
function staff(
  byRole: Record<string, readonly string[]>,
  creators: readonly string[] = PEOPLE,
  active: readonly string[] = PEOPLE,
): Staff {
  return {
    active: new Set(active),
    creators: new Set(creators),
    byRole: new Map(Object.entries(byRole).map(([role, people]) => [role, new Set(people)])),
    stoodInFor: new Set(),
    assignable: new Set(["carla"]),
  };
}

const review = (rule: Review["rule"], seats: SeatRule[], more: Partial<Review> = {}): Review =>
  ({ rule, seats, approve: "passed", return: "back", authorMayDecide: false, ...more }) as Review;
const of = (role: string, number?: number): SeatRule =>
  ({ role, pick: "sender", ...(number && { number }) }) as SeatRule;
const all = (role: string): SeatRule => ({ role, pick: "everyone" }) as SeatRule;
const person = (key: string): SeatRule => ({ person: key }) as SeatRule;

const desk = staff({ check: ["ada", "bruno"], edit: ["bruno"], none: [] }, ["ada", "dino"]);

test.each<[principal: string, people: string[]]>([
  ["author", ["ada", "dino"]],
  ["assignee", ["carla"]],
  ["anyone", [...PEOPLE]],
  ["role:check", ["ada", "bruno"]],
  ["role:none", []],
  ["role:unheard-of", []],
  ["person:dino", ["dino"]],
  ["person:gone", []],
])("%s can mean %j", (principal, people) => expect([...resolve(desk, principal)]).toEqual(people));

test.each<[seat: SeatRule, people: string[]]>([
  [of("check"), ["ada", "bruno"]],
  [all("edit"), ["bruno"]],
  [person("carla"), ["carla"]],
  [person("gone"), []],
])("the seat %j can be held by %j", (seat, people) => expect([...holders(desk, seat)]).toEqual(people));

test.each<[by: string[], notAuthor: boolean, yes: boolean]>([
  [["author"], false, true],
  [["author"], true, false],
  [["role:none"], false, false],
  [["role:none", "person:dino"], false, true],
  [["author", "role:edit"], true, true],
  [[], false, false],
])("somebody can take what is for %j, the author refused: %s: %s", (by, notAuthor, yes) => {
  expect(takeable(desk, by, notAuthor)).toBe(yes);
});

test("where one person alone begins pieces, what is refused to the author needs somebody else", () => {
  const alone = staff({ check: ["ada"], edit: ["ada", "bruno"] }, ["ada"]);
  expect(takeable(alone, ["role:check"], true)).toBe(false);
  expect(takeable(alone, ["role:edit"], true)).toBe(true);
  expect(takeable(alone, ["role:check"], false)).toBe(true);
});

test.each<[what: string, review: Review, author: string | null, passes: boolean]>([
  ["any: one who can", review("any", [of("edit")]), null, true],
  ["any: the only one is the author", review("any", [of("edit")]), "bruno", false],
  ["any: who may decide on their own", review("any", [of("edit")], { authorMayDecide: true }), "bruno", true],
  ["any: nobody", review("any", [of("none")]), null, false],
  ["all: a seat nobody can hold", review("all", [of("check"), of("none")]), null, false],
  ["all: a seat of the author's own is not waited for", review("all", [person("ada"), of("check")]), "ada", true],
  ["all: nothing but the author's own", review("all", [person("ada")]), "ada", false],
  ["all: two of two, one the author", review("all", [of("check", 2)]), "ada", false],
  ["all: everybody, which is the author alone", review("all", [all("edit"), of("check")]), "bruno", true],
  ["count: two of one role and its overlap", review("count", [of("check"), of("edit")], { count: 2 }), null, true],
  ["count: three from two people", review("count", [of("check"), of("edit"), of("check")], { count: 3 }), null, false],
  ["count: one is the author", review("count", [of("check"), of("edit")], { count: 2 }), "bruno", false],
])("%s", (_, wanted, author, passes) => expect(canPass(desk, wanted, author)).toBe(passes));

test("whose pieces could never pass is named, of those who begin pieces", () => {
  const few = staff({ check: ["ada", "bruno"], edit: ["carla"] }, ["ada", "carla"]);
  expect(stuckAuthors(few, review("all", [of("check", 2)]))).toEqual(["ada"]);
  expect(stuckAuthors(few, review("any", [of("edit")]))).toEqual(["carla"]);
  expect(stuckAuthors(few, review("any", [of("edit")], { authorMayDecide: true }))).toEqual([]);
  expect(stuckAuthors(few, review("any", [of("check"), of("edit")]))).toEqual([]);
  expect(stuckAuthors(few, review("count", [of("check"), of("edit")], { count: 2 }))).toEqual(["carla"]);
});

describe("laws", () => {
  const people = fc.subarray([...PEOPLE]);
  const roles = fc.record({ check: people, edit: people, safe: people });
  const role = fc.constantFrom("check", "edit", "safe");
  const seat = fc.oneof(
    fc.tuple(role, fc.integer({ min: 1, max: 3 })).map(([one, number]) => of(one, number)),
    role.map(all),
    fc.constantFrom(...PEOPLE).map(person),
  );
  const seats = fc.array(seat, { minLength: 1, maxLength: 3 });
  const author = fc.constantFrom(null, ...PEOPLE);

  /** The most who can approve, by trying everybody in every place. */
  function tried(who: Staff, wanted: Review, barred: string | null): number {
    const everybody = new Set<string>();
    const chairs: string[][] = [];
    for (const one of wanted.seats) {
      const able = [...holders(who, one)];
      if ("role" in one && one.pick === "everyone") for (const key of able) everybody.add(key);
      else for (let i = 0; i < ("role" in one ? (one.number ?? 1) : 1); i++) chairs.push(able);
    }
    const fill = (chair: number, sitting: ReadonlySet<string>): number => {
      const able = chairs[chair];
      if (!able) return sitting.size - (barred !== null && sitting.has(barred) ? 1 : 0);
      return Math.max(
        fill(chair + 1, sitting),
        ...able
          .filter((key) => !sitting.has(key) && key !== barred)
          .map((key) => fill(chair + 1, new Set([...sitting, key]))),
      );
    };
    return fill(0, everybody);
  }

  test("nobody finds more who can approve, against every way tried", () =>
    fc.assert(
      fc.property(roles, seats, author, (byRole, some, barred) => {
        const [who, wanted] = [staff(byRole), review("count", some)];
        expect(mostApprovals(who, wanted, barred)).toBe(tried(who, wanted, barred));
      }),
    ));

  test("one more at work never makes a review harder to pass", () =>
    fc.assert(
      fc.property(
        roles,
        seats,
        fc.constantFrom("any", "count"),
        role,
        fc.constantFrom(...PEOPLE),
        (byRole, some, rule, to, who) => {
          const wanted = review(rule as "any", some, { count: 2 });
          const more = { ...byRole, [to]: [...new Set([...byRole[to], who])] };
          if (canPass(staff(byRole), wanted, null)) expect(canPass(staff(more), wanted, null)).toBe(true);
        },
      ),
    ));

  test("whoever is stuck cannot pass, and whoever is not can, where anybody could", () =>
    fc.assert(
      fc.property(roles, seats, fc.constantFrom("any", "all", "count"), (byRole, some, rule) => {
        const [who, wanted] = [staff(byRole), review(rule as "any", some, { count: 2 })];
        if (!canPass(who, wanted, null)) return;
        const stuck = stuckAuthors(who, wanted);
        for (const key of PEOPLE) expect(canPass(who, wanted, key)).toBe(!stuck.includes(key));
      }),
    ));
});
