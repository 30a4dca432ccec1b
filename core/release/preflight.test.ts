import fc from "fast-check";
import { STARTING_POINTS } from "../workflow/editing/starting-points.ts";
import { type Departure, type Hold, preflight } from "./preflight.ts";

const reviewed = STARTING_POINTS.find((one) => one.states.some((state) => state.kind === "review"));
const unreviewed = STARTING_POINTS.find((one) => one.states.every((state) => state.kind !== "review"));
if (!reviewed || !unreviewed) throw new Error("the starting points have both");

const departure = (more: Partial<Departure> = {}): Departure => ({
  workflow: reviewed,
  state: { name: "Ready", kind: "ready" },
  currentHash: "a",
  plannedHash: "a",
  approvedHash: "a",
  fieldProblems: [],
  fileProblems: [],
  deleted: false,
  plannerMayRelease: true,
  ...more,
});

test.each<[string, Partial<Departure>, Hold["code"][]]>([
  ["all is well", {}, []],
  ["it went back to draft", { state: { name: "Draft", kind: "writing" } }, ["not-ready"]],
  ["it is live already", { state: { name: "Live", kind: "live" } }, ["not-ready"]],
  ["nobody approved it", { approvedHash: null }, ["not-approved"]],
  ["the text changed after the approval", { currentHash: "b", plannedHash: "b" }, ["text-changed"]],
  ["it was approved anew, and planned before", { currentHash: "b", approvedHash: "b" }, ["text-changed"]],
  ["a field is missing", { fieldProblems: ["Time is empty"] }, ["fields"]],
  ["a file is missing", { fileProblems: ["Text: “a.jpg” is missing"] }, ["files"]],
  ["it was deleted", { deleted: true }, ["deleted"]],
  ["its planner may no longer release", { plannerMayRelease: false }, ["not-granted"]],
  ["no review is asked", { workflow: unreviewed, approvedHash: null }, []],
  ["no review is asked, and the text changed", { workflow: unreviewed, currentHash: "b" }, ["text-changed"]],
  [
    "everything at once",
    {
      deleted: true,
      approvedHash: null,
      fieldProblems: ["x"],
      plannerMayRelease: false,
      state: { name: "Draft", kind: "writing" },
    },
    ["deleted", "not-ready", "not-approved", "fields", "not-granted"],
  ],
])("before a release: %s", (_, more, codes) => {
  expect(preflight(departure(more)).map((hold) => hold.code)).toEqual(codes);
});

test("a review that is switched off asks for no approval", () => {
  const off = {
    ...reviewed,
    states: reviewed.states.map((state) => (state.kind === "review" ? { ...state, bypass: "x" } : state)),
  };
  expect(preflight(departure({ workflow: off, approvedHash: null }))).toEqual([]);
});

test("what leaves a reviewed line was approved in exactly these words", () =>
  fc.assert(
    fc.property(
      fc.record({
        currentHash: fc.constantFrom("a", "b"),
        plannedHash: fc.constantFrom("a", "b"),
        approvedHash: fc.constantFrom("a", "b", null),
        deleted: fc.boolean(),
        plannerMayRelease: fc.boolean(),
        state: fc.constantFrom({ name: "Ready", kind: "ready" }, { name: "Draft", kind: "writing" }),
      }),
      (more) => {
        if (preflight(departure(more)).length > 0) return;
        expect([more.approvedHash, more.plannedHash]).toEqual([more.currentHash, more.currentHash]);
        expect([more.deleted, more.plannerMayRelease, more.state.kind]).toEqual([false, true, "ready"]);
      },
    ),
  ));
