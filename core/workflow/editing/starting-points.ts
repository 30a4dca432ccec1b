import type { Principal } from "../../people/principals.ts";
import type { Review, State, StateKind, Transition, Workflow } from "../document.ts";

type Stop = Partial<State> & { key: string; name: string; kind: StateKind };
type Step = Partial<Transition> & { key: string; name: string; from: string[]; to: string };

const state = (stop: Stop): State => ({
  editors: [],
  viewers: ["anyone"],
  ...stop,
  arrival: { assign: [], notify: [], checklist: [], ...stop.arrival },
});
const step = (one: Step): Transition => ({ by: [], requires: [], notify: [], ...one });
const review = (seats: Review["seats"], rule: Review["rule"], name: string): Review => ({
  rule,
  authorMayDecide: false,
  seats,
  approve: `${name}-right`,
  return: `${name}-back`,
  remind: ["1wd"],
});

const OWNERS: Principal[] = ["author", "role:chief", "role:lead"];
const LEADS: Principal[] = ["role:chief", "role:lead"];
const DRAFT = state({ key: "draft", name: "Draft", kind: "writing", take: "5wd", editors: OWNERS });
const READY = state({
  key: "ready",
  name: "Ready",
  kind: "ready",
  editors: ["role:chief"],
  arrival: { assign: [], notify: ["author"], checklist: [] },
});
const LIVE = state({ key: "live", name: "Live", kind: "live" });
const DROPPED = state({ key: "dropped", name: "Dropped", kind: "closed" });
const COPY_EDIT = state({
  key: "copy-edit",
  name: "Copy edit",
  kind: "review",
  take: "2wd",
  editors: ["role:copy-editor"],
  review: review([{ role: "copy-editor", pick: "least-busy", number: 1 }], "any", "copy"),
});

const send = (to: string, name: string) =>
  step({ key: "send", name, from: ["draft"], to, by: OWNERS, requires: ["fields", "note"] });
const outcomes = (at: string, name: string, approve: string, to: string) => [
  step({ key: `${name}-right`, name: approve, from: [at], to }),
  step({ key: `${name}-back`, name: "Back to the writer", from: [at], to: "draft" }),
];
const ending = [
  step({ key: "release", name: "Release", from: ["ready"], to: "live", by: ["role:chief", "role:web"] }),
  step({ key: "reopen", name: "Take back to draft", from: ["ready"], to: "draft", by: LEADS, requires: ["note"] }),
  step({ key: "revise", name: "Revise", from: ["live"], to: "draft", by: OWNERS }),
  step({ key: "drop", name: "Drop", from: ["draft"], to: "dropped", by: LEADS, requires: ["note"] }),
];

const line = (
  key: string,
  name: string,
  purpose: string,
  mainLine: string[],
  states: State[],
  transitions: Transition[],
): Workflow => ({
  format: "elenco.workflow/1",
  key,
  name,
  purpose,
  initial: mainLine[0] as string,
  mainLine,
  states,
  transitions,
});

/** Five workflows to begin from. They speak of the ready-made roles; each is sound where these have people. */
export const STARTING_POINTS: readonly Workflow[] = [
  line(
    "typing-errors",
    "Straight to readers",
    "For corrections nobody need look at: the writer lets them out.",
    ["draft", "live"],
    [DRAFT, LIVE],
    [
      step({ key: "release", name: "Let out", from: ["draft"], to: "live", by: LEADS, requires: ["fields"] }),
      step({ key: "revise", name: "Revise", from: ["live"], to: "draft", by: OWNERS }),
    ],
  ),
  line(
    "second-pair-of-eyes",
    "A second pair of eyes",
    "One copy editor reads every text before it is ready.",
    ["draft", "copy-edit", "ready", "live"],
    [DRAFT, COPY_EDIT, READY, LIVE, DROPPED],
    [send("copy-edit", "Send for copy edit"), ...outcomes("copy-edit", "copy", "Copy is right", "ready"), ...ending],
  ),
  line(
    "facts-then-words",
    "Facts, then words",
    "Two who know the matter check it, then a copy editor reads it.",
    ["draft", "fact-check", "copy-edit", "ready", "live"],
    [
      DRAFT,
      state({
        key: "fact-check",
        name: "Fact check",
        kind: "review",
        take: "3wd",
        review: { ...review([{ role: "checker", pick: "everyone" }], "count", "facts"), count: 2 },
      }),
      COPY_EDIT,
      READY,
      LIVE,
      DROPPED,
    ],
    [
      send("fact-check", "Send for fact check"),
      ...outcomes("fact-check", "facts", "Facts are right", "copy-edit"),
      ...outcomes("copy-edit", "copy", "Copy is right", "ready"),
      ...ending,
    ],
  ),
  line(
    "urgent-notice",
    "Urgent notice",
    "One responsible person approves, and it is out at once.",
    ["draft", "approval", "live"],
    [
      { ...DRAFT, take: "4wh" },
      state({
        key: "approval",
        name: "Approval",
        kind: "review",
        take: "2wh",
        editors: ["role:safety"],
        review: review([{ role: "safety", pick: "everyone" }], "any", "notice"),
      }),
      LIVE,
    ],
    [
      send("approval", "Send for approval"),
      ...outcomes("approval", "notice", "Publish", "live"),
      step({ key: "revise", name: "Revise", from: ["live"], to: "draft", by: OWNERS }),
    ],
  ),
  line(
    "signed-in-order",
    "Signed in order",
    "Edited, then signed one after another; the last signature makes it ready.",
    ["draft", "copy-edit", "signatures", "ready", "live"],
    [
      DRAFT,
      COPY_EDIT,
      state({
        key: "signatures",
        name: "Signatures",
        kind: "review",
        take: "3wd",
        review: review(
          [
            { role: "lead", pick: "sender", number: 1 },
            { role: "chief", pick: "everyone" },
          ],
          "in-order",
          "signed",
        ),
      }),
      READY,
      LIVE,
      DROPPED,
    ],
    [
      send("copy-edit", "Send for copy edit"),
      ...outcomes("copy-edit", "copy", "Copy is right", "signatures"),
      ...outcomes("signatures", "signed", "Sign", "ready"),
      ...ending,
    ],
  ),
];
