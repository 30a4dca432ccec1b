import fc from "fast-check";
import type { Transition } from "../workflow/document.ts";
import { STARTING_POINTS } from "../workflow/editing/starting-points.ts";
import { asRefusal, type Departure, type Hold, isOfRight, preflight, sameHolds, sayHold } from "./preflight.ts";

const reviewed = STARTING_POINTS.find((one) => one.states.some((state) => state.kind === "review"));
const unreviewed = STARTING_POINTS.find((one) => one.states.every((state) => state.kind !== "review"));
if (!reviewed || !unreviewed) throw new Error("the starting points have both");

const STANDING = { fieldProblems: [], openChecklist: [], openComments: 0, publishAt: null };
const MAY = { mayRelease: true, named: true, wrote: false };
const OPEN = { ...STANDING, openChecklist: ["Distances"], openComments: 2 };
const asking = (...requires: Transition["requires"]): Transition => ({
  key: "release",
  name: "Release",
  from: ["ready"],
  to: "live",
  by: ["role:web"],
  requires,
  notify: [],
});

const departure = (more: Partial<Departure> = {}): Departure => ({
  workflow: reviewed,
  state: { name: "Ready", kind: "ready" },
  currentHash: "a",
  plannedHash: "a",
  approvedHash: "a",
  step: asking(),
  stays: false,
  standing: STANDING,
  fileProblems: [],
  deleted: false,
  withdrawn: false,
  embargo: null,
  closed: null,
  cause: MAY,
  ...more,
});

test.each<[string, Partial<Departure>, Hold["code"][]]>([
  ["all is well", {}, []],
  ["it went back to draft", { state: { name: "Draft", kind: "writing" } }, ["not-ready"]],
  ["it is under embargo", { embargo: "Thu 3 Dec, 22:00" }, ["embargo"]],
  ["its channel is closed", { closed: "Thu 3 Dec, 22:00" }, ["window"]],
  ["it is live already", { state: { name: "Live", kind: "live" } }, ["not-ready"]],
  ["nobody approved it", { approvedHash: null }, ["not-approved"]],
  ["the text changed after the approval", { currentHash: "b", plannedHash: "b" }, ["text-changed"]],
  ["it was approved anew, and planned before", { currentHash: "b", approvedHash: "b" }, ["plan-changed"]],
  ["a field is missing", { standing: { ...STANDING, fieldProblems: ["Time is empty"] } }, ["fields"]],
  ["it leaves at once, and nothing was planned", { plannedHash: null }, []],
  ["it leaves at once, straight from its review", { plannedHash: null, state: { name: "Check", kind: "review" } }, []],
  ["by hand, and nobody approved it", { plannedHash: null, approvedHash: null }, ["not-approved"]],
  ["no step leads out", { step: null }, ["no-step"]],
  ["its step asks for the checklist", { step: asking("checklist"), standing: OPEN }, ["checklist"]],
  ["its step asks for settled comments", { step: asking("comments-settled"), standing: OPEN }, ["comments-open"]],
  ["its step asks for neither", { standing: OPEN }, []],
  ["its step is not for whoever planned it", { cause: { ...MAY, named: false } }, ["not-named"]],
  ["its step is not for its author", { step: asking("not-author"), cause: { ...MAY, wrote: true } }, ["not-author"]],
  ["a file is missing", { fileProblems: ["Text: “a.jpg” is missing"] }, ["files"]],
  ["it was deleted", { deleted: true }, ["deleted"]],
  ["it was withdrawn", { withdrawn: true }, ["withdrawn"]],
  ["its planner may no longer release", { cause: { ...MAY, mayRelease: false } }, ["not-granted"]],
  ["no review is asked", { workflow: unreviewed, approvedHash: null }, []],
  ["no review is asked, and the text changed", { workflow: unreviewed, currentHash: "b" }, ["plan-changed"]],
  [
    "everything at once",
    {
      deleted: true,
      approvedHash: null,
      standing: { ...STANDING, fieldProblems: ["x"] },
      cause: { ...MAY, mayRelease: false },
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
        plannedHash: fc.constantFrom("a", "b", null),
        approvedHash: fc.constantFrom("a", "b", null),
        deleted: fc.boolean(),
        mayRelease: fc.boolean(),
        state: fc.constantFrom({ name: "Ready", kind: "ready" }, { name: "Draft", kind: "writing" }),
      }),
      (more) => {
        const cause = { ...MAY, mayRelease: more.mayRelease };
        if (preflight(departure({ ...more, cause })).length > 0) return;
        expect([more.approvedHash, more.plannedHash ?? more.currentHash]).toEqual([more.currentHash, more.currentHash]);
        expect([more.deleted, more.mayRelease]).toEqual([false, true]);
        if (more.plannedHash !== null) expect(more.state.kind).toBe("ready");
      },
    ),
  ));

test.each<[Hold, string]>([
  [{ code: "not-ready", about: ["Draft"] }, "It is in Draft and not ready for release."],
  [
    { code: "fields", about: ["Time is empty", "Grade is empty"] },
    "Its fields are not complete: Time is empty; Grade is empty.",
  ],
  [{ code: "checklist", about: ["Distances"] }, "Its checklist is not done: Distances."],
  [{ code: "embargo", about: ["Thu 3 Dec, 22:00"] }, "It is under embargo until Thu 3 Dec, 22:00."],
  [
    { code: "window", about: ["Fri 4 Dec, 06:00"] },
    "Nothing leaves at that time; the next window opens Fri 4 Dec, 06:00.",
  ],
  [{ code: "not-named", about: ["Release"] }, "“Release” is not for whoever answers for the release."],
  [{ code: "not-author", about: ["Release"] }, "Its author does not take “Release”."],
  [{ code: "text-changed" }, "The text was changed after it was approved."],
])("what holds it is said: %j", (hold, said) => expect(sayHold(hold)).toBe(said));

test("by hand the first hold is the refusal, and the others are what else is missing; without any there is none", () => {
  expect(asRefusal([{ code: "not-approved" }, { code: "comments-open" }, { code: "files", about: ["a.jpg"] }])).toEqual(
    {
      code: "not-approved",
      sentence: "No review has approved it.",
      missing: ["comments on it are not settled.", "its files are not in order: a.jpg."],
    },
  );
  expect(asRefusal([])).toBeNull();
});

test("a hold that hangs on who answers for it is told from one that hangs on the piece", () => {
  const all: Hold["code"][] = [
    "not-granted",
    "not-named",
    "not-author",
    "fields",
    "embargo",
    "not-approved",
    "deleted",
  ];
  expect(all.filter((code) => isOfRight({ code }))).toEqual(["not-granted", "not-named", "not-author"]);
});

test.each<[Hold[], Hold[], boolean]>([
  [[], [], true],
  [[{ code: "fields", about: ["Time is empty"] }], [{ code: "fields", about: ["Time is empty"] }], true],
  [[{ code: "fields", about: ["Time is empty"] }], [{ code: "fields", about: ["Grade is empty"] }], false],
  [[{ code: "deleted" }], [], false],
])("%j and %j say the same: %s", (one, other, same) => expect(sameHolds(one, other)).toBe(same));
