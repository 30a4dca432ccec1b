import type { People } from "../../people/document.ts";
import { type PrincipalNames, sayPrincipal } from "../../people/principals.ts";
import { list } from "../../words/say.ts";
import { outcomeKeys, type State, type Transition, type Workflow } from "../document.ts";
import { type Graph, graphOf, type Numbered, numbered, reached, reversed, shortestPath } from "../graph.ts";
import { type Fault, knownIn, type Place, references } from "../references.ts";
import { canPass, holders, type Staff, staffOf, stuckAuthors, takeable } from "./staffing.ts";

export type Code =
  | Fault["code"]
  | "unreachable"
  | "dead-end"
  | "no-finish"
  | "broken-main-line"
  | "bypass-loop"
  | "nobody-can"
  | "review-unstaffed"
  | "self-review-deadlock"
  | "unreviewed-release"
  | "no-return"
  | "no-stand-in"
  | "ambiguous-name";

/** Something the checker found: an error keeps a workflow from use, a warning asks to be acknowledged. */
export interface Finding {
  code: Code;
  severity: "error" | "warning";
  at?: Place;
  /** A sentence that names the people and the states. */
  message: string;
  /** A smallest proof: keys of states along a shortest path, or of people, sorted. */
  witness?: { path: string[] } | { people: string[] };
}

/**
 * Checks a workflow with the people there are. First the document itself; only when nothing is
 * wrong with it, its graph and its staffing. Exact: every finding of `docs/findings.md`, and no
 * other. Takes time linear in states, transitions and people, but for reviews that have nobody to
 * spare, where each author among the candidates is looked at.
 *
 * @returns errors and warnings, by the place they have in the document
 */
export function check(workflow: Workflow, people: People): Finding[] {
  const numbers = numbered(workflow);
  const faults = references(workflow, knownIn(people), numbers);
  if (faults.length > 0) return faults.map((fault) => ({ ...asFinding(fault), severity: "error" }));
  const whole = graphOf(workflow, false, numbers);
  const travelled = workflow.states.some((state) => state.bypass) ? graphOf(workflow, true, numbers) : whole;
  const staff = staffOf(workflow, people);
  return [
    ...unreachable(workflow, whole),
    ...endless(whole, travelled),
    ...brokenMainLine(numbers, whole),
    ...nobodyCan(workflow, staff, people),
    ...reviews(workflow, staff, people),
    ...unreviewedRelease(workflow, travelled),
    ...noReturn(whole),
    ...ambiguousNames(workflow, numbers),
  ];
}

/** Whether a workflow with these findings may be put in use. */
export const isSound = (findings: readonly Finding[]) => findings.every((finding) => finding.severity === "warning");

const HALTING: readonly Code[] = ["unknown-reference", "duplicate-key", "bypass-loop"];

/** Whether a piece can walk a workflow with these findings at all, in a rehearsal or in a change of it. */
export const isWalkable = (findings: readonly Finding[]) => findings.every(({ code }) => !HALTING.includes(code));

function asFinding({ code, at, path, message }: Fault): Omit<Finding, "severity"> {
  return { code, ...(at && { at }), message: `${path}: ${message}.` };
}

/** Counted over every transition, also of states that are switched off: they will be switched on again. */
function* unreachable(workflow: Workflow, whole: Graph): Generator<Finding> {
  const seen = reached(whole, [whole.number.get(workflow.initial) as number]);
  for (const [i, state] of whole.states.entries()) {
    if (seen[i]) continue;
    yield {
      code: "unreachable",
      severity: "error",
      at: { state: state.key },
      message: `No piece can ever come to ${state.name}: no step leads there from ${nameOf(whole, workflow.initial)}.`,
    };
  }
}

const ends = (state: State) => state.kind === "live" || state.kind === "closed";

/** Dead ends, circles of switched-off states, and states from which no way ends in live or closed. */
function* endless(whole: Graph, travelled: Graph): Generator<Finding> {
  const { states } = travelled;
  const goals = states.flatMap((state, i) => (ends(state) ? [i] : []));
  const finishes = reached(reversed(travelled), goals);
  const looping = yield* bypassLoops(travelled);
  for (const [i, state] of states.entries()) {
    if (ends(state)) continue;
    const at = { state: state.key };
    if (whole.next[i]?.length === 0) {
      const message = `A piece that comes to ${state.name} stays there for ever: no step leads on.`;
      yield { code: "dead-end", severity: "error", at, message };
    } else if (!finishes[i] && !looping.has(state.key)) {
      const message = `From ${state.name} no way leads to an end: a piece there can only go round.`;
      yield { code: "no-finish", severity: "error", at, message };
    }
  }
}

function* bypassLoops({ states, number, next }: Graph): Generator<Finding, Set<string>> {
  const looping = new Set<string>();
  const done = new Set<number>();
  for (const start of states.keys()) {
    const way: number[] = [];
    let at = start;
    while ((states[at] as State).bypass !== undefined && !done.has(at)) {
      done.add(at);
      way.push(at);
      at = next[at]?.[0] as number;
    }
    const loop = way.slice(way.includes(at) ? way.indexOf(at) : way.length).map((i) => states[i] as State);
    for (const state of loop) looping.add(state.key);
    const [first] = loop.toSorted((a, b) => (number.get(a.key) as number) - (number.get(b.key) as number));
    if (!first) continue;
    const names = [...loop, loop[0] as State].map((state) => state.name).join(", ");
    yield {
      code: "bypass-loop",
      severity: "error",
      at: { state: first.key },
      message: `The switched-off states lead only to one another: ${names}.`,
    };
  }
  return looping;
}

function* brokenMainLine({ mainLine }: Numbered, { states, next }: Graph): Generator<Finding> {
  for (let i = 1; i < mainLine.length; i++) {
    const [before, after] = [mainLine[i - 1] as number, mainLine[i] as number];
    if (next[before]?.includes(after)) continue;
    const [from, to] = [states[before] as State, states[after] as State];
    yield {
      code: "broken-main-line",
      severity: "error",
      at: { state: from.key },
      message: `${from.name} and ${to.name} are neighbours on the main line, and no step leads from the one to the other.`,
    };
  }
}

/** Outcomes are taken by their review, and the bypass of a switched-off state by the piece itself. */
function* nobodyCan(workflow: Workflow, staff: Staff, people: People): Generator<Finding> {
  const byItself = outcomeKeys(workflow);
  for (const { bypass } of workflow.states) if (bypass) byItself.add(bypass);
  for (const transition of workflow.transitions) {
    if (takeable(staff, transition.by, transition.requires.includes("not-author"))) continue;
    if (byItself.has(transition.key)) continue;
    yield {
      code: "nobody-can",
      severity: "error",
      at: { transition: transition.key },
      message: `Nobody who works here may take “${transition.name}”: ${whoIsNamed(transition, people)}.`,
    };
  }
}

function whoIsNamed({ by, requires }: Transition, people: People): string {
  if (by.length === 0) return "nobody is named on it";
  if (requires.includes("not-author") && by.every((principal) => principal === "author"))
    return "it is the author's, and the author is barred from it";
  return `it is for ${by.map((principal) => sayPrincipal(principal, namesIn(people))).join(" or ")} alone`;
}

/** What principals are called here, a role by `the role …`. */
const namesIn = ({ people, roles }: People): PrincipalNames => ({
  person: (key) => people.find((one) => one.key === key)?.name ?? key,
  role: (key) => `the role ${roles.find((one) => one.key === key)?.name ?? key}`,
});

/** What is wrong with the staffing of reviews; of those that are switched off nothing is asked. */
function* reviews(workflow: Workflow, staff: Staff, people: People): Generator<Finding> {
  for (const state of workflow.states) {
    const { review } = state;
    if (!review || state.bypass) continue;
    const at = { state: state.key };
    if (!canPass(staff, review, null)) {
      const message = `${state.name} can never be passed: ${shortOf(state, staff, people)}.`;
      yield { code: "review-unstaffed", severity: "error", at, message };
      continue;
    }
    const stuck = stuckAuthors(staff, review);
    if (stuck.length > 0) {
      const who = list(stuck.map((key) => sayPrincipal(`person:${key}`, namesIn(people))));
      yield {
        code: "self-review-deadlock",
        severity: "error",
        at,
        message: `Pieces by ${who} could never pass ${state.name}: authors do not decide on their own work, and without them too few are left.`,
        witness: { people: stuck },
      };
    }
    yield* noStandIn(state, staff, people);
  }
}

function shortOf({ review }: State, staff: Staff, people: People): string {
  const empty = review?.seats.find((seat) => holders(staff, seat).size === 0);
  if (empty) {
    const who = sayPrincipal("person" in empty ? `person:${empty.person}` : `role:${empty.role}`, namesIn(people));
    return "person" in empty ? `${who} no longer works here` : `nobody who works here has ${who}`;
  }
  return review?.rule === "count"
    ? `${review.count} approvals are asked, and there are not so many people for its seats`
    : "there are not as many people as its seats ask for";
}

function* noStandIn({ key, name, review }: State, staff: Staff, people: People): Generator<Finding> {
  if (review?.rule !== "in-order") return;
  const alone = review.seats.map((seat) => holders(staff, seat)).filter((able) => able.size === 1);
  const waitedFor = [...new Set(alone.flatMap((able) => [...able]))]
    .filter((person) => !staff.stoodInFor.has(person))
    .sort();
  if (waitedFor.length === 0) return;
  const who = waitedFor.map((key) => sayPrincipal(`person:${key}`, namesIn(people)));
  yield {
    code: "no-stand-in",
    severity: "warning",
    at: { state: key },
    message: `${name} goes in order and waits for ${list(who)}, for whom nobody stands in.`,
    witness: { people: waitedFor },
  };
}

function* unreviewedRelease(workflow: Workflow, travelled: Graph): Generator<Finding> {
  const way = shortestPath(
    travelled,
    travelled.number.get(workflow.initial) as number,
    (state) => state.kind === "live",
    (state) => state.kind !== "review" || state.bypass !== undefined,
  );
  if (!way) return;
  const path = way.map((i) => travelled.states[i] as State);
  yield {
    code: "unreviewed-release",
    severity: "warning",
    message: `A text can reach readers past every review: ${path.map((state) => state.name).join(", ")}.`,
    witness: { path: path.map((state) => state.key) },
  };
}

function* noReturn({ states, next }: Graph): Generator<Finding> {
  for (const [i, state] of states.entries()) {
    if (state.kind !== "review" || next[i]?.some((to) => states[to]?.kind === "writing")) continue;
    yield {
      code: "no-return",
      severity: "warning",
      at: { state: state.key },
      message: `${state.name} has no step back to a state where the text is written.`,
    };
  }
}

function* ambiguousNames({ states, transitions }: Workflow, { from }: Numbered): Generator<Finding> {
  const stops = new Set<string>();
  for (const { key, name } of states) {
    if (stops.has(name)) {
      const message = `Two states are called “${name}”; nobody can tell them apart.`;
      yield { code: "ambiguous-name", severity: "warning", at: { state: key }, message };
    }
    stops.add(name);
  }
  const names: string[][] = states.map(() => []);
  const twice: string[] = [];
  for (let t = 0; t < from.length; t++) {
    const { name } = transitions[t] as Transition;
    for (const i of from[t] as readonly number[]) {
      if (names[i]?.includes(name)) twice[i] = name;
      else names[i]?.push(name);
    }
  }
  for (const [i, state] of twice.length > 0 ? states.entries() : []) {
    const name = twice[i];
    if (name === undefined) continue;
    yield {
      code: "ambiguous-name",
      severity: "warning",
      at: { state: state.key },
      message: `Two steps from ${state.name} are called “${name}”; nobody can tell them apart.`,
    };
  }
}

const nameOf = ({ states, number }: Graph, key: string) => states[number.get(key) as number]?.name ?? key;
