import { readFileSync } from "node:fs";
import fc from "fast-check";
import { readPeople } from "../../people/document.ts";
import { check, isSound } from "../checking/check.ts";
import { readShape, type StateKind, type Workflow } from "../document.ts";
import { layOut } from "../drawing/layout.ts";
import { graphOf, reached, reversed } from "../graph.ts";
import { type Fate, landing, propose, roundFate } from "../migrate.ts";
import { differences } from "./differences.ts";
import {
  addState,
  addTransition,
  asKind,
  changeState,
  emptyWorkflow,
  moveState,
  removeState,
  removeTransition,
  switchState,
} from "./edit.ts";
import { STARTING_POINTS } from "./starting-points.ts";

const read = (json: unknown): Workflow => {
  const shape = readShape(json);
  if ("problems" in shape) throw new Error(JSON.stringify(shape.problems));
  return shape.workflow;
};

const DEMO = ["route-guide", "bulletin-item", "safety-notice", "magazine-feature", "hut-page", "straight-out"].map(
  (key) => read(JSON.parse(readFileSync(`demo/workflows/${key}.json`, "utf8"))),
);
const LINES = [...DEMO, ...STARTING_POINTS];

/** People with every role and enough of each, so that only the graph can be at fault. */
const staff = readPeople({
  roles: ["chief", "lead", "writer", "checker", "copy-editor", "safety", "picture-desk", "web"].map((key) => ({
    key,
    name: key,
    permissions: key === "writer" ? ["piece.create"] : [],
  })),
  people: ["lene", "dario", "petra", "ilda", "wim", "jorun", "a", "b"].map((key) => ({
    key,
    name: key,
    active: true,
    roles: [
      "chief",
      "lead",
      "checker",
      "copy-editor",
      "safety",
      "picture-desk",
      "web",
      ...(key === "a" ? ["writer"] : []),
    ],
  })),
});
const PEOPLE = "people" in staff ? staff.people : { roles: [], people: [] };

/** Random edits of a workflow, as a person makes them in the studio. */
const edits = fc.array(
  fc.record({
    what: fc.constantFrom("add", "siding", "remove", "move", "aside", "switch", "unlink", "link", "kind"),
    at: fc.nat(30),
    to: fc.nat(30),
    kind: fc.constantFrom<StateKind>("writing", "review", "ready", "live", "parked", "closed"),
  }),
  { maxLength: 12 },
);
type Edit = { what: string; at: number; to: number; kind: StateKind };

function apply(workflow: Workflow, { what, at, to, kind }: Edit): Workflow {
  const key = (n: number) => workflow.states[n % workflow.states.length]?.key ?? "";
  const stop = (n: number) => workflow.mainLine[n % workflow.mainLine.length] ?? "";
  const made: Record<string, () => Workflow> = {
    add: () => addState(workflow, `Stop ${at}`, kind, stop(at), "checker").workflow,
    siding: () => addState(workflow, `Siding ${at}`, kind, null, "checker").workflow,
    remove: () => removeState(workflow, key(at)),
    move: () => moveState(workflow, key(at), stop(to)),
    aside: () => moveState(workflow, key(at), "siding"),
    switch: () => switchState(workflow, key(at), to % 2 === 0),
    unlink: () =>
      removeTransition(workflow, workflow.transitions[at % Math.max(1, workflow.transitions.length)]?.key ?? ""),
    link: () => addTransition(workflow, `Step ${at}`, key(at), key(to)).workflow,
    kind: () => asKind(workflow, key(at), kind, "checker"),
  };
  return made[what]?.() ?? workflow;
}

const edited = fc
  .record({ start: fc.constantFrom(...LINES), edits })
  .map(({ start, edits }) => edits.reduce(apply, start));

describe("edits", () => {
  test("whatever is done in the studio, the document keeps its shape and can be saved and laid out", () =>
    fc.assert(
      fc.property(edited, fc.integer({ min: 200, max: 1400 }), (workflow, width) => {
        expect(readShape(JSON.parse(JSON.stringify(workflow)))).toHaveProperty("workflow");
        const drawn = layOut(workflow, width);
        expect(drawn.stops.map((stop) => stop.state.key).sort()).toEqual(
          workflow.states.map((state) => state.key).sort(),
        );
        const places = new Set(drawn.stops.map((stop) => `${stop.x} ${stop.y}`));
        expect(places.size).toBe(drawn.stops.length);
        for (const stop of drawn.stops) expect(stop.x).toBeLessThanOrEqual(drawn.width);
      }),
      { numRuns: 300 },
    ));

  test("a five-state line built stop by stop from empty is sound", () => {
    let line = emptyWorkflow("guide", "Guide");
    line = addState(line, "Ready", "ready", "draft", "checker").workflow;
    line = addState(line, "Copy edit", "review", "draft", "copy-editor").workflow;
    line = addState(line, "Route check", "review", "draft", "checker").workflow;
    expect(line.mainLine).toEqual(["draft", "route-check", "copy-edit", "ready", "live"]);
    const found = check(line, PEOPLE);
    expect(found.map(({ code, at }) => ({ code, at }))).toEqual([
      { code: "nobody-can", at: { transition: "ready-done" } },
    ]);
    expect(line.states.map((state) => state.review?.return && state.key)).toEqual([
      undefined,
      "route-check",
      "copy-edit",
      undefined,
      undefined,
    ]);
  });

  test("a stop moved along the line takes the steps of the line with it", () => {
    const [guide] = DEMO as [Workflow];
    const moved = moveState(guide, "copy-edit", "route-check");
    expect(moved.mainLine.slice(0, 3)).toEqual(["draft", "copy-edit", "route-check"]);
    expect(moved.transitions.find((step) => step.key === "send")?.to).toBe("copy-edit");
    expect(moved.transitions.find((step) => step.key === "copy-right")?.to).toBe("route-check");
    expect(moved.transitions.find((step) => step.key === "checked")?.to).toBe("safety-sign-off");
    expect(isSound(check(moved, PEOPLE))).toBe(true);
  });

  test("a stop taken out is bridged, and nothing names what is gone", () => {
    for (const line of LINES)
      for (const state of line.states.filter((one) => one.kind === "review")) {
        const codes = check(removeState(line, state.key), PEOPLE).map((one) => one.code);
        expect(codes).not.toContain("unknown-reference");
        expect(codes).not.toContain("broken-main-line");
      }
  });

  test("switched off and on again is as it was", () => {
    const [guide] = DEMO as [Workflow];
    expect(switchState(switchState(guide, "copy-edit", true), "copy-edit", false)).toEqual(guide);
    expect(switchState(guide, "route-check", true).states[1]?.bypass).toBe("checked");
  });
});

describe("from one workflow to the next", () => {
  const sound = edited.filter((workflow) => isSound(check(workflow, PEOPLE)));

  test("nobody is stranded: whatever is proposed or chosen, a piece can still reach an end", () =>
    fc.assert(
      fc.property(sound, sound, fc.nat(50), (from, to, pick) => {
        const graph = graphOf(to, true);
        const ends = graph.states.flatMap((state, i) => (state.kind === "live" || state.kind === "closed" ? [i] : []));
        const finishes = reached(reversed(graph), ends);
        const canFinish = (key: string) => finishes[graph.number.get(key) as number];
        for (const { state, fate } of propose(from, to)) {
          const chosen: Fate = fate ?? { kind: "moves", to: to.states[pick % to.states.length]?.key ?? "" };
          const rest = landing(to, state.key, chosen);
          if (fate && state.kind !== "live") expect(rest?.kind).not.toBe("live");
          expect(rest?.bypass).toBeUndefined();
          expect(canFinish(rest?.key ?? "")).toBe(true);
        }
      }),
      { numRuns: 200 },
    ));

  test("to itself: everything stays but what is switched off, and every round goes on", () =>
    fc.assert(
      fc.property(sound, (workflow) => {
        expect(differences(workflow, workflow)).toEqual([]);
        for (const { state, fate } of propose(workflow, workflow)) {
          if (!state.bypass) expect(fate).toEqual({ kind: "stays" });
          if (state.review) expect(roundFate(state, state)).toBe("continues");
        }
      }),
    ));

  test("differences are said in the words of the settings", () => {
    const [guide] = DEMO as [Workflow];
    const next = changeState(
      removeState(addState(guide, "Proof", "review", "copy-edit", "checker").workflow, "set-aside"),
      "draft",
      {
        name: "First draft",
        take: "2wd",
      },
    );
    const said = differences(guide, next).map((one) => one.words);
    expect(said).toEqual(
      expect.arrayContaining([
        "First draft: was called Draft, time allowed",
        "Proof is new",
        "Set aside is gone",
        "Copy is right: where it leads",
      ]),
    );
  });
});
