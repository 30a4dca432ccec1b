import { stateOf, type Workflow, workflowSchema } from "./document.ts";
import { legsAfter, legsFrom } from "./legs.ts";

const workflow: Workflow = workflowSchema.parse({
  format: "elenco.workflow/1",
  key: "line",
  name: "A line",
  initial: "draft",
  mainLine: ["draft", "check", "copy", "ready", "live"],
  states: [
    { key: "draft", name: "Draft", kind: "writing", take: "2wd" },
    { key: "check", name: "Check", kind: "writing", bypass: "copy" },
    { key: "copy", name: "Copy edit", kind: "writing", take: "1wd" },
    { key: "ready", name: "Ready", kind: "ready" },
    { key: "live", name: "Live", kind: "live" },
    { key: "mend", name: "Mending", kind: "writing", take: "3wd" },
  ],
  transitions: [],
});
const keys = (legs: readonly { key: string }[]) => legs.map((leg) => leg.key);

test("the stops behind a place leave out what is switched off, and keep the time work there may take", () => {
  expect(legsAfter(workflow, 0)).toEqual([
    { key: "copy", take: "1wd" },
    { key: "ready", take: null },
    { key: "live", take: null },
  ]);
  expect(keys(legsAfter(workflow, -1))).toEqual(["draft", "copy", "ready", "live"]);
  expect(legsAfter(workflow, 4)).toEqual([]);
});

test.each([
  ["draft", ["draft", "copy", "ready", "live"]],
  ["ready", ["ready", "live"]],
  ["live", []],
  ["mend", []],
])("from %s there lies ahead %j", (key, ahead) => {
  expect(keys(legsFrom(workflow, stateOf(workflow, key)))).toEqual(ahead);
});
