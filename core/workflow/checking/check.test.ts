import { readFileSync } from "node:fs";
import fc from "fast-check";
import { readPeople } from "../../people/document.ts";
import { judge } from "../../review/round.ts";
import { readShape, type Workflow } from "../document.ts";
import { check, type Finding } from "./check.ts";

interface Case {
  name: string;
  workflow: unknown;
  people: unknown;
  expect: Omit<Finding, "message">[];
}

const { cases }: { cases: Case[] } = JSON.parse(
  readFileSync(new URL("./cases/workflow-findings.json", import.meta.url), "utf8"),
);

const read = (json: unknown): Workflow => {
  const shape = readShape(json);
  if ("problems" in shape) throw new Error(JSON.stringify(shape.problems));
  return shape.workflow;
};

test.each(cases.map((one) => [one.name, one] as const))("%s", (_, { workflow, people, expect: expected }) => {
  const staff = readPeople(people);
  if ("problems" in staff) throw new Error("the people cannot be read");
  const found = check(read(workflow), staff.people);
  expect(found.map(({ message, ...rest }) => rest)).toEqual(expected);
  for (const { message } of found) expect(message).toMatch(/^.{20,}\.$/);
});

describe("against naive enumeration", () => {
  const KINDS = ["writing", "review", "ready", "live", "parked", "closed"] as const;
  const KEYS = ["a", "b", "c", "d", "e"];
  const ROLES = ["x", "y"];
  const PEOPLE = ["p", "q", "r"];

  const seats = fc.array(
    fc.oneof(
      fc.record({ person: fc.constantFrom(...PEOPLE) }),
      fc.record(
        {
          role: fc.constantFrom(...ROLES),
          pick: fc.constantFrom("everyone", "least-busy", "sender"),
          number: fc.integer({ min: 1, max: 3 }),
        },
        { requiredKeys: ["role", "pick"] },
      ),
    ),
    { minLength: 1, maxLength: 3 },
  );
  const reviews = fc.record({
    rule: fc.constantFrom("any", "all", "count", "in-order"),
    count: fc.integer({ min: 1, max: 3 }),
    authorMayDecide: fc.boolean(),
    seats,
  });
  const steps = fc.array(
    fc.record({
      from: fc.constantFrom(...KEYS),
      to: fc.constantFrom(...KEYS),
      name: fc.constantFrom("Go", "Back", "On"),
    }),
    { maxLength: 9 },
  );
  const states = fc.tuple(
    ...KEYS.map(() => fc.record({ kind: fc.constantFrom(...KINDS), off: fc.boolean(), review: reviews })),
  );
  const people = fc.tuple(
    ...PEOPLE.map(() =>
      fc.record({
        active: fc.boolean(),
        roles: fc.subarray(ROLES),
        writes: fc.boolean(),
        standIn: fc.option(fc.constantFrom(...PEOPLE)),
      }),
    ),
  );
  const random = fc.record({ states, steps, people }).map(({ states, steps, people }) => {
    const transitions = steps.map((step, i) => ({
      key: `t${i}`,
      name: step.name,
      from: [step.from],
      to: step.to,
      by: ["anyone"],
    }));
    const leaving = (key: string) => transitions.filter((step) => step.from[0] === key);
    const document = {
      format: "elenco.workflow/1",
      key: "random",
      name: "Random",
      initial: "a",
      mainLine: ["a"],
      states: states.map(({ kind, off, review }, i) => {
        const key = KEYS[i] as string;
        const [first] = leaving(key);
        const isReview = kind === "review" && first !== undefined;
        return {
          key,
          name: key.toUpperCase(),
          kind: kind === "review" && !isReview ? "parked" : kind,
          ...(isReview && { review: { ...review, approve: first.key, return: first.key } }),
          ...(off && first && { bypass: first.key }),
        };
      }),
      transitions,
    };
    const team = readPeople({
      roles: [
        ...ROLES.map((key) => ({ key, name: key, permissions: [] })),
        { key: "w", name: "w", permissions: ["piece.create"] },
      ],
      people: people.map(({ active, roles, writes, standIn }, i) => ({
        key: PEOPLE[i],
        name: `Person ${i}`,
        active,
        roles: writes ? [...roles, "w"] : roles,
        ...(standIn && standIn !== PEOPLE[i] && { standIn }),
      })),
    });
    if ("problems" in team) throw new Error("the people cannot be read");
    return { workflow: read(document), people: team.people };
  });

  /** Every way through the graph that touches no state twice, from a state on. */
  function* ways(workflow: Workflow, from: string, asTravelled: boolean, so: string[] = []): Generator<string[]> {
    const way = [...so, from];
    yield way;
    const { bypass } = workflow.states.find((state) => state.key === from) ?? {};
    for (const step of workflow.transitions) {
      if (!step.from.includes(from) || way.includes(step.to)) continue;
      if (asTravelled && bypass && step.key !== bypass) continue;
      yield* ways(workflow, step.to, asTravelled, way);
    }
  }

  const codesAt = (found: Finding[], code: string) =>
    found.flatMap((one) => (one.code === code && one.at && "state" in one.at ? [one.at.state] : []));

  test("the graph: unreachable, dead-end, no-finish, bypass-loop, no-return", () =>
    fc.assert(
      fc.property(random, ({ workflow, people }) => {
        const found = check(workflow, people);
        const kindOf = (key: string | undefined) => workflow.states.find((state) => state.key === key)?.kind ?? "";
        const isEnd = (key: string | undefined) => ["live", "closed"].includes(kindOf(key));
        const come = new Set([...ways(workflow, "a", false)].map((way) => way.at(-1)));
        const left = (key: string) => workflow.transitions.filter((step) => step.from.includes(key));
        const finishes = (key: string) => [...ways(workflow, key, true)].some((way) => isEnd(way.at(-1)));
        const inLoop = (key: string) => {
          let at = key;
          for (let i = 0; i < KEYS.length + 1; i++) {
            const { bypass } = workflow.states.find((state) => state.key === at) ?? {};
            if (!bypass) return false;
            at = workflow.transitions.find((step) => step.key === bypass)?.to ?? "";
            if (at === key) return true;
          }
          return false;
        };
        expect(codesAt(found, "unreachable")).toEqual(KEYS.filter((key) => !come.has(key)));
        expect(codesAt(found, "dead-end")).toEqual(KEYS.filter((key) => !isEnd(key) && left(key).length === 0));
        expect(codesAt(found, "no-finish")).toEqual(
          KEYS.filter((key) => !isEnd(key) && left(key).length > 0 && !finishes(key) && !inLoop(key)),
        );
        expect(codesAt(found, "bypass-loop").length > 0).toBe(KEYS.some(inLoop));
        for (const key of codesAt(found, "bypass-loop")) expect(inLoop(key)).toBe(true);
        expect(codesAt(found, "no-return")).toEqual(
          KEYS.filter((key) => kindOf(key) === "review" && !left(key).some((step) => kindOf(step.to) === "writing")),
        );
      }),
      { numRuns: 400 },
    ));

  test("a release past every review, by a shortest way", () =>
    fc.assert(
      fc.property(random, ({ workflow, people }) => {
        const finding = check(workflow, people).find((one) => one.code === "unreviewed-release");
        const stateAt = (key: string | undefined) => workflow.states.find((state) => state.key === key);
        const past = [...ways(workflow, "a", true)].filter(
          (way) =>
            stateAt(way.at(-1))?.kind === "live" &&
            way.every((key) => stateAt(key)?.kind !== "review" || stateAt(key)?.bypass !== undefined),
        );
        expect(finding !== undefined).toBe(past.length > 0);
        if (!finding) return;
        const { path } = finding.witness as { path: string[] };
        expect(past).toContainEqual(path);
        expect(path).toHaveLength(Math.min(...past.map((way) => way.length)));
      }),
      { numRuns: 400 },
    ));

  test("staffing, against the very seating and judging of a round", () =>
    fc.assert(
      fc.property(random, ({ workflow, people }) => {
        const found = check(workflow, people);
        const writers = people.people
          .filter((one) => one.active && one.roles.includes("w"))
          .map((one) => one.key)
          .sort();
        for (const { key, review, bypass } of workflow.states) {
          if (!review || bypass) continue;
          const passes = (author: string) =>
            everySeating(review, people, author).some((seats) => approvedByAll(review, seats));
          const unstaffed = !passes("nobody");
          expect(codesAt(found, "review-unstaffed").includes(key)).toBe(unstaffed);
          const stuck = unstaffed ? [] : writers.filter((author) => !passes(author));
          const deadlock = found.find(
            (one) => one.code === "self-review-deadlock" && JSON.stringify(one.at) === `{"state":"${key}"}`,
          );
          expect(deadlock?.witness ?? { people: [] }).toEqual({ people: stuck });
        }
      }),
      { numRuns: 600 },
    ));

  type Team = Parameters<typeof check>[1];
  type Rule = NonNullable<Workflow["states"][number]["review"]>;

  /** Every way a round can be seated, whoever is least busy and whoever the sender picks; none where a seat lacks people. */
  function everySeating(review: Rule, people: Team, author: string): { person: string; void: boolean }[][] {
    let seatings: string[][] = [[]];
    for (const rule of review.seats) {
      const able = people.people
        .filter((one) => one.active && ("person" in rule ? one.key === rule.person : one.roles.includes(rule.role)))
        .map((one) => one.key);
      const others = able.filter((one) => review.authorMayDecide || one !== author);
      const wanted = "role" in rule ? (rule.number ?? 1) : 1;
      const everybody = "person" in rule || rule.pick === "everyone";
      const short =
        "person" in rule
          ? able.length < 1
          : rule.number === undefined && everybody
            ? able.length < 1
            : others.length < wanted;
      if (short && ["all", "in-order"].includes(review.rule)) return [];
      const picks = everybody ? [able] : subsets(others, Math.min(wanted, others.length));
      seatings = seatings.flatMap((so) => picks.map((pick) => [...so, ...pick]));
    }
    return seatings.map((names) =>
      [...new Set(names)].map((person) => ({ person, void: person === author && !review.authorMayDecide })),
    );
  }

  const subsets = (of: string[], size: number): string[][] =>
    size === 0 ? [[]] : of.flatMap((one, i) => subsets(of.slice(i + 1), size - 1).map((rest) => [one, ...rest]));

  function approvedByAll(review: Rule, seats: { person: string; void: boolean }[]): boolean {
    const round = {
      rule: review.rule,
      count: review.count ?? 1,
      version: "v",
      seats: seats.map((one) => ({ id: one.person, void: one.void })),
    };
    const outcome = judge(
      round,
      seats.map((one) => ({ seat: one.person, verdict: "approve", version: "v" })),
    );
    return outcome.kind === "passed";
  }
});

test("what the document itself gets wrong is said alone, with its place", () => {
  const [{ workflow, people }] = cases as [Case];
  const document = structuredClone(workflow) as { states: { key: string; editors?: string[] }[]; effective?: object };
  document.effective = { from: "2026-03-01", until: "2026-02-01" };
  document.states.push({ ...(document.states[0] as { key: string }), editors: ["role:nobody"] });
  const staff = readPeople(people);
  if ("problems" in staff) throw new Error("the people cannot be read");
  expect(check(read(document), staff.people).map(({ code, at }) => ({ code, at }))).toEqual([
    { code: "duplicate-key", at: { state: "draft" } },
    { code: "unknown-principal", at: { state: "draft" } },
    { code: "empty-period", at: undefined },
  ]);
});
