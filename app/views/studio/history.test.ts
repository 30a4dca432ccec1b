import fc from "fast-check";
import { readShape, type Workflow } from "#core/workflow/document.ts";
import { bare, follow, type History, KEPT_STEPS, type Step } from "./history.ts";

const read = readShape({
  format: "elenco.workflow/1",
  key: "short",
  name: "Short",
  initial: "draft",
  mainLine: ["draft", "live"],
  states: [
    { key: "draft", name: "Draft", kind: "writing" },
    { key: "live", name: "Live", kind: "live" },
  ],
  transitions: [{ key: "out", name: "Out", from: ["draft"], to: "live", by: ["author"] }],
});
const start = (read as { workflow: Workflow }).workflow;

const rename =
  (name: string) =>
  (workflow: Workflow): Workflow => ({ ...workflow, name });
const change = (name: string, setting: string | null = null, at = 0): Step => ({
  kind: "change",
  make: rename(name),
  setting,
  at,
});
const names = ({ past, present, future }: History) => [
  past.map((one) => one.name),
  present.name,
  future.map((one) => one.name),
];
const after = (...steps: Step[]) => steps.reduce(follow, bare(start));

test.each<[string, Step[], unknown]>([
  ["each change is a step of its own", [change("A"), change("B")], [["Short", "A"], "B", []]],
  ["typing into one setting is one step", [change("A", "name", 0), change("AB", "name", 900)], [["Short"], "AB", []]],
  ["after a pause it is another", [change("A", "name", 0), change("AB", "name", 1_200)], [["Short", "A"], "AB", []]],
  ["and so is another setting", [change("A", "name", 0), change("B", "purpose", 10)], [["Short", "A"], "B", []]],
  ["undone, it can be done again", [change("A"), { kind: "undo" }], [[], "Short", ["A"]]],
  ["done again", [change("A"), { kind: "undo" }, { kind: "redo" }], [["Short"], "A", []]],
  ["a new change forgets what was undone", [change("A"), { kind: "undo" }, change("B")], [["Short"], "B", []]],
  [
    "typing on after an undo is a step of its own",
    [change("A", "name", 0), { kind: "undo" }, change("B", "name", 5)],
    [["Short"], "B", []],
  ],
  ["nothing to undo, nothing to redo", [{ kind: "undo" }, { kind: "redo" }], [[], "Short", []]],
])("%s", (_, steps, expected) => {
  expect(names(after(...steps))).toEqual(expected);
});

test("a change that changes nothing leaves the very same history", () => {
  const history = bare(start);
  expect(follow(history, { kind: "change", make: (workflow) => workflow, setting: null, at: 0 })).toBe(history);
});

test("undoing everything comes back to the start, and redoing it to the end", () =>
  fc.assert(
    fc.property(fc.array(fc.string({ minLength: 1 }), { maxLength: KEPT_STEPS }), (words) => {
      const end = after(...words.map((word) => change(word)));
      const back = words.reduce((history) => follow(history, { kind: "undo" }), end);
      expect(back.present).toEqual(start);
      expect(words.reduce((history) => follow(history, { kind: "redo" }), back).present).toEqual(end.present);
    }),
  ));

test("the oldest steps are let go", () => {
  const end = after(...Array.from({ length: KEPT_STEPS + 5 }, (_, i) => change(`${i}`)));
  expect([end.past.length, end.past[0]?.name]).toEqual([KEPT_STEPS, "4"]);
});
