import { readFileSync } from "node:fs";
import fc from "fast-check";
import { type People, readPeople } from "../../people/document.ts";
import { readShape, type State, type Workflow } from "../document.ts";
import { removeState, removeTransition, switchState } from "../editing/edit.ts";
import { check, type Finding } from "./check.ts";
import { identity, mends } from "./mend.ts";

const { cases } = JSON.parse(readFileSync(new URL("./cases/workflow-findings.json", import.meta.url), "utf8")) as {
  cases: { name: string; workflow: unknown; people: unknown }[];
};

/** The line of the first case, in which nothing is amiss, and the people on it. */
const sound = (): { workflow: Workflow; people: People } => {
  const [first] = cases;
  const [shape, staff] = [readShape(first?.workflow), readPeople(first?.people)];
  if ("problems" in shape || "problems" in staff) throw new Error("the sound line cannot be read");
  return { workflow: shape.workflow, people: staff.people };
};

const changed = (workflow: Workflow, key: string, part: Partial<State>): Workflow => ({
  ...workflow,
  states: workflow.states.map((state) => (state.key === key ? { ...state, ...part } : state)),
});
const reviewed = (workflow: Workflow, key: string, part: Partial<NonNullable<State["review"]>>): Workflow => {
  const review = workflow.states.find((state) => state.key === key)?.review;
  if (!review) throw new Error(`${key} is no review`);
  return changed(workflow, key, { review: { ...review, ...part } });
};

interface Broken {
  name: string;
  code: Finding["code"];
  breaks(line: { workflow: Workflow; people: People }): { workflow: Workflow; people: People };
  /** What is offered to mend it. */
  offers: string[];
}

const BROKEN: Broken[] = [
  {
    name: "a stop of the line has no step to the next",
    code: "broken-main-line",
    breaks: ({ workflow, people }) => ({ workflow: removeTransition(workflow, "send"), people }),
    offers: ["Add a step “To Route check”"],
  },
  {
    name: "a step is nobody's",
    code: "nobody-can",
    breaks: ({ workflow, people }) => ({
      workflow: {
        ...workflow,
        transitions: workflow.transitions.map((step) => (step.key === "send" ? { ...step, by: ["role:ghost"] } : step)),
      },
      people: { ...people, roles: [...people.roles, { key: "ghost", name: "Ghost", permissions: [] }] },
    }),
    offers: ["Open it to Managing editor"],
  },
  {
    name: "a review wants more approvals than there are reviewers",
    code: "review-unstaffed",
    breaks: ({ workflow, people }) => ({
      workflow: reviewed(workflow, "route-check", { rule: "count", count: 9 }),
      people,
    }),
    offers: ["Ask for one approval"],
  },
  {
    name: "a seat is a role nobody has",
    code: "review-unstaffed",
    breaks: ({ workflow, people }) => ({
      workflow: reviewed(workflow, "route-check", {
        rule: "all",
        seats: [
          { role: "checker", pick: "everyone" },
          { role: "ghost", pick: "everyone" },
        ],
      }),
      people: { ...people, roles: [...people.roles, { key: "ghost", name: "Ghost", permissions: [] }] },
    }),
    offers: ["Give that seat to Managing editor"],
  },
];

test("of the sound line nothing is to be mended", () => {
  const { workflow, people } = sound();
  expect(check(workflow, people)).toEqual([]);
});

test.each(BROKEN.map((one) => [one.name, one] as const))(
  "%s: what is offered mends it",
  (_, { code, breaks, offers }) => {
    const { workflow, people } = breaks(sound());
    const finding = check(workflow, people).find((one) => one.code === code);
    if (!finding) throw new Error(`not found: ${check(workflow, people).map((one) => one.code)}`);
    const offered = mends(workflow, people, finding);
    expect(offered.map(({ label }) => label)).toEqual(offers);
  },
);

test("law: whatever is taken out, put to sleep or left without anybody, a mend that is offered mends, and lets no error in", () => {
  const { workflow, people } = sound();
  const steps = workflow.transitions.map(({ key }) => key);
  const states = workflow.states.filter(({ key }) => key !== workflow.initial).map(({ key }) => key);
  const doing = fc.oneof(
    fc.record({ does: fc.constant("step" as const), key: fc.constantFrom(...steps) }),
    fc.record({ does: fc.constant("state" as const), key: fc.constantFrom(...states) }),
    fc.record({ does: fc.constant("asleep" as const), key: fc.constantFrom(...states) }),
    fc.record({ does: fc.constant("nobody" as const), key: fc.constantFrom(...people.people.map(({ key }) => key)) }),
  );
  let offered = 0;
  fc.assert(
    fc.property(fc.array(doing, { minLength: 1, maxLength: 4 }), (doings) => {
      let line = { workflow, people };
      for (const { does, key } of doings) {
        if (does === "nobody") {
          line = { ...line, people: { ...line.people, people: line.people.people.filter((one) => one.key !== key) } };
          continue;
        }
        const at = line.workflow;
        const known = does === "step" ? at.transitions : at.states;
        if (!known.some((one) => one.key === key)) continue;
        const next = {
          step: removeTransition,
          state: removeState,
          asleep: (on: Workflow) => switchState(on, key, true),
        }[does];
        line = { ...line, workflow: next(at, key) };
      }
      const before = check(line.workflow, line.people);
      const errors = new Set(before.map(identity));
      for (const finding of before)
        for (const mend of mends(line.workflow, line.people, finding)) {
          offered += 1;
          expect(mend.label).toMatch(/^[A-Z].{5,}/);
          const shape = readShape(JSON.parse(JSON.stringify(mend.workflow)));
          expect(shape).not.toHaveProperty("problems");
          const after = check(mend.workflow, line.people);
          expect(after.map(identity)).not.toContain(identity(finding));
          expect(after.filter((one) => one.severity === "error" && !errors.has(identity(one)))).toEqual([]);
        }
    }),
    { numRuns: 200, seed: 7 },
  );
  expect(offered).toBeGreaterThan(100);
});
