import { readFileSync } from "node:fs";
import fc from "fast-check";
import { calendarSchema } from "../time/calendar-format.ts";
import { stateOf, type Workflow } from "./document.ts";
import { bareLine, strip } from "./drawing/strip.ts";
import { judgeMove, moves, restingPlace, type Standing } from "./moves.ts";
import { type Known, readWorkflow } from "./references.ts";

const DAY = 86_400_000;

const document = {
  format: "elenco.workflow/1",
  key: "guide",
  name: "Guide",
  initial: "draft",
  mainLine: ["draft", "check", "edit", "live"],
  states: [
    { key: "draft", name: "Draft", kind: "writing", take: "2wd" },
    {
      key: "check",
      name: "Check",
      kind: "review",
      take: "1wd",
      review: { rule: "any", seats: [{ person: "wim" }], approve: "checked", return: "back" },
    },
    {
      key: "edit",
      name: "Edit",
      kind: "review",
      take: "1wd",
      review: { rule: "any", seats: [{ role: "sub" }], approve: "edited", return: "edit-back" },
    },
    { key: "live", name: "Live", kind: "live" },
    { key: "aside", name: "Aside", kind: "parked" },
  ],
  transitions: [
    {
      key: "send",
      name: "Send",
      from: ["draft"],
      to: "check",
      by: ["author", "role:chief"],
      requires: ["fields", "note", "publish-date", "comments-settled", "checklist"],
    },
    { key: "checked", name: "Right", from: ["check"], to: "edit" },
    { key: "back", name: "Back", from: ["check"], to: "draft" },
    { key: "edited", name: "Edited", from: ["edit"], to: "live" },
    { key: "edit-back", name: "Back", from: ["edit"], to: "draft" },
    { key: "out", name: "Out at once", from: ["draft"], to: "live", by: ["anyone"], requires: ["not-author"] },
    { key: "park", name: "Set aside", from: ["draft"], to: "aside", by: ["author"] },
  ],
};

const KNOWN: Known = {
  roles: new Set(["chief", "sub", "checker", "subeditor", "empty"]),
  people: new Set(["wim", "petra", "ilda"]),
};

function read(json: unknown): Workflow {
  const result = readWorkflow(json, KNOWN);
  if ("problems" in result) throw new Error(JSON.stringify(result.problems));
  return result.workflow;
}

const guide = read(document);
const standing = (more: Partial<Standing> = {}): Standing => ({
  state: "draft",
  principals: new Set(["author", "person:tobia"]),
  fieldProblems: [],
  openChecklist: [],
  openComments: 0,
  publishAt: null,
  maySend: true,
  mayRelease: true,
  ...more,
});
const refusals = (more: Partial<Standing>, key = "send") =>
  moves(guide, standing(more))
    .find((move) => move.transition.key === key)
    ?.refusals.map((one) => one.code);

describe("what may happen next", () => {
  test("every step that leaves the state is shown, a round's outcomes are not", () => {
    expect(moves(guide, standing()).map((move) => move.transition.key)).toEqual(["send", "out", "park"]);
    expect(moves(guide, standing({ state: "check" }))).toEqual([]);
  });

  test.each<[string, Partial<Standing>, string, string[]]>([
    ["all is well", {}, "send", []],
    ["not named by the step", { principals: new Set(["person:noor"]) }, "send", ["not-yours"]],
    ["named through a role", { principals: new Set(["role:chief"]) }, "send", []],
    ["no grant to send", { maySend: false }, "send", ["not-granted"]],
    ["fields missing", { fieldProblems: ["Season is empty"] }, "send", ["fields"]],
    ["a checklist not done", { openChecklist: ["Distances"] }, "send", ["checklist"]],
    ["comments open", { openComments: 2 }, "send", ["comments-open"]],
    ["the author, where another must", {}, "out", ["not-author"]],
    [
      "to readers, without the right to release",
      { principals: new Set(["role:x"]), mayRelease: false },
      "out",
      ["may-not-release"],
    ],
  ])("%s", (_, more, key, expected) => {
    expect(refusals(more, key)).toEqual(expected);
  });

  test("what the sending must bring along is asked, and refused when it is not brought", () => {
    expect(moves(guide, standing())[0]?.asks).toEqual(["note", "publish-date"]);
    const judged = (note: string, publishAt: number | null) => {
      const move = judgeMove(guide, standing(), "send", { note, publishAt });
      return "code" in move ? move.code : move.refusals.map((one) => one.code);
    };
    expect(judged(" ", null)).toEqual(["note-missing", "publish-date-missing"]);
    expect(judged("New.", 5)).toEqual([]);
    expect(judgeMove(guide, standing(), "checked", { note: "", publishAt: null })).toMatchObject({
      code: "no-such-move",
    });
  });
});

test("a switched-off state is passed by, several in a row too, and a circle is a bug", () => {
  const off = (keys: Record<string, string>) =>
    read({
      ...document,
      states: document.states.map((state) => (keys[state.key] ? { ...state, bypass: keys[state.key] } : state)),
    });
  expect(restingPlace(off({ check: "checked" }), "check").state.key).toBe("edit");
  const both = restingPlace(off({ check: "checked", edit: "edited" }), "check");
  expect([both.state.key, ...both.passedBy.map((state) => state.key)]).toEqual(["live", "check", "edit"]);
  expect(() => restingPlace(off({ check: "back", draft: "send" }), "check")).toThrow(/circle/);
});

describe("reading a document", () => {
  const problems = (json: unknown) => {
    const result = readWorkflow(json, KNOWN);
    return "problems" in result ? result.problems.map((problem) => problem.path) : [];
  };
  test("defaults are filled in, and every case of the findings that is whole can be read", () => {
    expect(stateOf(guide, "check").review).toMatchObject({ authorMayDecide: false, remind: [] });
    const cases = JSON.parse(readFileSync("core/workflow/checking/cases/workflow-findings.json", "utf8")).cases as {
      workflow: unknown;
      expect: { code: string }[];
    }[];
    for (const one of cases) {
      const broken = one.expect.some((finding) => finding.code === "unknown-reference");
      expect(problems(one.workflow).length > 0).toBe(broken);
    }
  });
  test.each<[string, object, string[]]>([
    ["an unknown top-level key", { ...document, owner: "me" }, ["owner"]],
    ["an initial state that is none", { ...document, initial: "start" }, ["initial"]],
    ["a main line through nowhere", { ...document, mainLine: ["draft", "x"] }, ["mainLine[1]"]],
    [
      "a step to nowhere",
      {
        ...document,
        transitions: [{ key: "t", name: "T", from: ["draft"], to: "x" }],
        states: [document.states[0]],
        mainLine: ["draft"],
      },
      ["transitions[0].to"],
    ],
    [
      "a review without a review",
      { ...document, states: document.states.map((state) => ({ ...state, review: undefined })) },
      ["states[1].review", "states[2].review"],
    ],
    [
      "a period that ends before it begins",
      { ...document, effective: { from: "2026-02-01", until: "2026-01-01" } },
      ["effective.until"],
    ],
    ["a key with strange characters", { ...document, key: "Größe 1" }, ["key"]],
    ["no object at all", [], ["the document"]],
  ])("%s", (_, json, paths) => {
    expect(problems(json)).toEqual(paths);
  });
  test("people and roles that are not there are named with their place", () => {
    const result = readWorkflow(document, { ...KNOWN, roles: new Set(["chief"]) });
    const paths = "problems" in result ? result.problems.map((problem) => problem.path) : [];
    expect(paths).toEqual(["states[2].review.seats[0]"]);
  });
  test("no JSON whatever makes it throw", () =>
    fc.assert(fc.property(fc.jsonValue(), (json) => void readWorkflow(json, KNOWN))));
});

describe("the strip", () => {
  const calendar = calendarSchema.parse({
    timeZone: "UTC",
    week: Object.fromEntries(["mon", "tue", "wed", "thu", "fri"].map((day) => [day, [["09:00", "17:00"]]])),
  });
  const monday = Date.parse("2026-11-23T09:00Z");
  const stay = (stateKey: string, from: number, until: number | null) => ({
    stateKey,
    arrivedAt: monday + from * DAY,
    leftAt: until === null ? null : monday + until * DAY,
  });

  test("time spent behind, time waited here, dates ahead", () => {
    const stops = strip(
      guide,
      [stay("draft", 0, 1), stay("check", 1, null)],
      monday + 2 * DAY,
      monday + 11 * DAY,
      calendar,
      monday + 1.5 * DAY,
    );
    expect(stops.map((stop) => stop.when)).toEqual(["past", "now", "ahead", "ahead"]);
    expect(stops[0]?.spent).toBe(DAY);
    expect(stops[1]?.spent).toBe(DAY / 2);
    expect(stops.some((stop) => stop.late)).toBe(false);
    expect(stops[3]?.dueAt).toBe(monday + 11 * DAY);
  });

  test("late here, and late ahead, when the date can no longer be met", () => {
    const stops = strip(
      guide,
      [stay("draft", 0, 1), stay("check", 1, null)],
      monday + 2 * DAY,
      monday + 3 * DAY,
      calendar,
      monday + 3 * DAY,
    );
    expect(stops.map((stop) => stop.late ?? false)).toEqual([false, true, true, true]);
  });

  test("a piece set aside stands beside the line, and a second stay adds to the first", () => {
    const stops = strip(
      guide,
      [stay("draft", 0, 1), stay("check", 1, 2), stay("draft", 2, 4), stay("aside", 4, null)],
      null,
      null,
      calendar,
      monday + 5 * DAY,
    );
    expect(stops.map((stop) => [stop.key, stop.when, stop.siding ?? false])).toEqual([
      ["draft", "past", false],
      ["check", "past", false],
      ["aside", "now", true],
      ["edit", "ahead", false],
      ["live", "ahead", false],
    ]);
    expect(stops[0]?.spent).toBe(3 * DAY);
  });

  test("a workflow without a piece is all ahead", () => {
    expect(bareLine(guide).map((stop) => stop.when)).toEqual(["ahead", "ahead", "ahead", "ahead"]);
  });
});
