import { freeKey } from "../../words/keys.ts";
import { OUTCOMES, type Review, type State, type StateKind, type Transition, type Workflow } from "../document.ts";

/** A setting changed: the key stays, everything else may be replaced; `undefined` takes it away. */
export type StateChange = Partial<Omit<State, "key">>;
export type TransitionChange = Partial<Omit<Transition, "key">>;

/** A workflow with nothing in it but a beginning and an end. */
export function emptyWorkflow(key: string, name: string): Workflow {
  return {
    format: "elenco.workflow/1",
    key,
    name,
    initial: "draft",
    mainLine: ["draft", "live"],
    states: [bareState("draft", "Draft", "writing"), bareState("live", "Live", "live")],
    transitions: [],
  };
}

/**
 * Puts a new state into the workflow. Behind a stop of the main line it is built into the line:
 * the steps that led from that stop to the next now lead to it, and one leads on from it.
 *
 * @param after key of the state it follows on the main line, or null for a siding
 * @param reviewer key of the role that reviews, where the new state is a review
 * @returns the workflow and the new state's key
 */
export function addState(
  workflow: Workflow,
  name: string,
  kind: StateKind,
  after: string | null,
  reviewer: string,
): { workflow: Workflow; key: string } {
  const key = freeKey(name, workflow.states);
  const state = bareState(key, name, kind);
  const place = after === null ? -1 : workflow.mainLine.indexOf(after);
  if (place < 0) {
    const beside = { ...workflow, states: [...workflow.states, state] };
    return { key, workflow: kind === "review" ? asKind(beside, key, kind, reviewer) : beside };
  }
  const next = workflow.mainLine[place + 1];
  const within = {
    ...workflow,
    mainLine: workflow.mainLine.toSpliced(place + 1, 0, key),
    states: workflow.states.toSpliced(workflow.states.findIndex((one) => one.key === after) + 1, 0, state),
    transitions: workflow.transitions.map((step) =>
      step.from.includes(after as string) && step.to === next ? leadingTo(workflow, step, state) : step,
    ),
  };
  const led = within.transitions.some((step) => step.from.includes(after as string) && step.to === key);
  const inward = led ? within : addTransition(within, nameTo(state), after as string, key).workflow;
  const onward = next ? addTransition(inward, `${name.slice(0, 75)} done`, key, next).workflow : inward;
  return { key, workflow: kind === "review" ? asKind(onward, key, "review", reviewer) : onward };
}

/** Changes a state's settings. */
export function changeState(workflow: Workflow, key: string, change: StateChange): Workflow {
  return { ...workflow, states: workflow.states.map((one) => (one.key === key ? tidy({ ...one, ...change }) : one)) };
}

/**
 * Makes a state one of another kind. One that becomes a review is given a rule, a seat and its
 * outcomes: approval leads on along the main line, return to the last writing state before it.
 *
 * @param reviewer key of the role that reviews
 */
export function asKind(workflow: Workflow, key: string, kind: StateKind, reviewer: string): Workflow {
  if (kind !== "review") return changeState(workflow, key, { kind, review: undefined });
  const state = workflow.states.find((one) => one.key === key);
  if (!state || state.review) return workflow;
  const leaving = workflow.transitions.filter((step) => step.from.includes(key));
  const writing = new Set(workflow.states.filter((one) => one.kind === "writing").map((one) => one.key));
  const place = workflow.mainLine.indexOf(key);
  const behind = workflow.mainLine.slice(0, Math.max(0, place)).findLast((one) => writing.has(one)) ?? workflow.initial;
  const onward = leaving.find((step) => step.to === workflow.mainLine[place + 1]) ?? leaving[0];
  const back = leaving.find((step) => writing.has(step.to) && step !== onward);
  const withApprove = onward
    ? { workflow: changeTransition(workflow, onward.key, { by: [] }), key: onward.key }
    : addTransition(workflow, "Approve", key, workflow.mainLine[place + 1] ?? behind);
  const withBoth = back
    ? { workflow: withApprove.workflow, key: back.key }
    : addTransition(withApprove.workflow, "Needs work", key, behind);
  const outcomes = new Set([withApprove.key, withBoth.key]);
  const review: Review = {
    rule: "any",
    authorMayDecide: false,
    seats: [{ role: reviewer, pick: "everyone" }],
    approve: withApprove.key,
    return: withBoth.key,
    remind: [],
  };
  const made = changeState(withBoth.workflow, key, { kind, review });
  return {
    ...made,
    transitions: made.transitions.map((step) => (outcomes.has(step.key) ? { ...step, by: [] } : step)),
  };
}

/** Takes a state out, with the steps that only it had; what led to it leads to the stop behind it, or else before it. */
export function removeState(workflow: Workflow, key: string): Workflow {
  if (workflow.states.length === 1) return workflow;
  const place = workflow.mainLine.indexOf(key);
  const next = place >= 0 ? workflow.mainLine[place + 1] : undefined;
  const transitions = workflow.transitions.flatMap((step): Transition[] => {
    const from = step.from.filter((one) => one !== key);
    if (from.length === 0) return [];
    if (step.to !== key) return [{ ...step, from }];
    const to = [next, workflow.mainLine[place - 1]].find((stop) => stop !== undefined && !from.includes(stop));
    const bridged = place >= 0 && workflow.states.find((one) => one.key === to);
    return bridged ? [leadingTo(workflow, { ...step, from }, bridged)] : [];
  });
  const states = workflow.states.filter((one) => one.key !== key);
  const left = mended({
    ...workflow,
    states,
    transitions,
    mainLine: workflow.mainLine.filter((one) => one !== key),
    initial: workflow.initial === key ? (next ?? (states[0] as State).key) : workflow.initial,
  });
  return left.mainLine.length > 0 ? left : { ...left, mainLine: [left.initial] };
}

/**
 * Moves a state to another place: on the main line between other stops, or off it onto a siding.
 * Steps along the line follow the new order; where two new neighbours have none, one is made.
 *
 * @param before key of the stop it should stand before, `null` for the end of the line, `"siding"` beside it
 */
export function moveState(workflow: Workflow, key: string, before: string | null | "siding"): Workflow {
  const rest = workflow.mainLine.filter((one) => one !== key);
  const place = before === null ? rest.length : rest.indexOf(before);
  if (before === "siding") return rest.length > 0 ? { ...workflow, mainLine: rest } : workflow;
  if (before === key || place < 0) return workflow;
  const mainLine = rest.toSpliced(place, 0, key);
  if (mainLine.join() === workflow.mainLine.join()) return workflow;
  const order = new Map(mainLine.map((one, i) => [one, i]));
  const states = workflow.states.toSorted((a, b) => (order.get(a.key) ?? 1e9) - (order.get(b.key) ?? 1e9));
  return relaid({ ...workflow, states }, mainLine);
}

/** Lets the steps that ran from stop to stop of the old line run along the new one. */
function relaid(workflow: Workflow, mainLine: string[]): Workflow {
  const follows = (line: readonly string[], stop: string) => line[line.indexOf(stop) + 1];
  let next: Workflow = {
    ...workflow,
    mainLine,
    transitions: workflow.transitions.map((step) => {
      const [only] = step.from;
      const along = step.from.length === 1 && only !== undefined && follows(workflow.mainLine, only) === step.to;
      const to = along && mainLine.includes(only) ? follows(mainLine, only) : undefined;
      const target = workflow.states.find((one) => one.key === to);
      return target ? leadingTo(workflow, step, target) : step;
    }),
  };
  for (const [i, stop] of mainLine.slice(1).entries()) {
    const from = mainLine[i] as string;
    if (next.transitions.some((step) => step.from.includes(from) && step.to === stop)) continue;
    const target = workflow.states.find((state) => state.key === stop) as State;
    next = addTransition(next, nameTo(target), from, stop).workflow;
  }
  return next;
}

/** A step turned to another state; a name that only said where it led goes with it. */
function leadingTo(workflow: Workflow, step: Transition, to: State): Transition {
  const before = workflow.states.find((one) => one.key === step.to);
  const name = before && step.name === nameTo(before) ? nameTo(to) : step.name;
  return { ...step, to: to.key, name };
}

/** What a step is called that nobody has named yet. */
export const nameTo = ({ name }: State) => `To ${name}`.slice(0, 80);

/** Puts in a step between two states, open to the author where the text is written. */
export function addTransition(
  workflow: Workflow,
  name: string,
  from: string,
  to: string,
): { workflow: Workflow; key: string } {
  const key = freeKey(name, workflow.transitions);
  const writing = workflow.states.find((one) => one.key === from)?.kind === "writing";
  const step: Transition = { key, name, from: [from], to, by: writing ? ["author"] : [], requires: [], notify: [] };
  return { key, workflow: { ...workflow, transitions: [...workflow.transitions, step] } };
}

/** Changes a transition's settings. */
export function changeTransition(workflow: Workflow, key: string, change: TransitionChange): Workflow {
  const transitions = workflow.transitions.map((one) => (one.key === key ? tidy({ ...one, ...change }) : one));
  return { ...workflow, transitions };
}

/** Takes a transition out. An outcome it was is left to be chosen anew, and a bypass ends. */
export function removeTransition(workflow: Workflow, key: string): Workflow {
  return mended({ ...workflow, transitions: workflow.transitions.filter((one) => one.key !== key) });
}

/** Switches a state off, or on again. It is passed by its approval, or else by the step along the main line. */
export function switchState(workflow: Workflow, key: string, off: boolean): Workflow {
  if (!off) return changeState(workflow, key, { bypass: undefined });
  const state = workflow.states.find((one) => one.key === key);
  const leaving = workflow.transitions.filter((step) => step.from.includes(key));
  const next = workflow.mainLine[workflow.mainLine.indexOf(key) + 1];
  const bypass = state?.review?.approve ?? leaving.find((step) => step.to === next)?.key ?? leaving[0]?.key;
  return bypass ? changeState(workflow, key, { bypass }) : workflow;
}

/** Drops what names a transition that no longer leaves the state: a decline, a bypass; lets approval and return find another. */
function mended(workflow: Workflow): Workflow {
  const leaves = (key: string | undefined, from: string) =>
    workflow.transitions.some((step) => step.key === key && step.from.includes(from));
  const states = workflow.states.map((state) => {
    const stands = leaves(state.bypass, state.key) ? state : tidy({ ...state, bypass: undefined });
    if (!state.review || OUTCOMES.every((one) => leaves(state.review?.[one], state.key))) return stands;
    const { decline, ...review } = state.review;
    return { ...stands, review: leaves(decline, state.key) ? { ...review, decline } : review };
  });
  return { ...workflow, states };
}

function bareState(key: string, name: string, kind: StateKind): State {
  return {
    key,
    name,
    kind: kind === "review" ? "parked" : kind,
    editors: kind === "writing" ? ["author"] : [],
    viewers: ["anyone"],
    arrival: { assign: [], notify: [], checklist: [] },
  };
}

/** Without the settings that were taken away, so that two ways to the same workflow give the same document. */
function tidy<T extends object>(value: T): T {
  return Object.fromEntries(Object.entries(value).filter(([, part]) => part !== undefined)) as T;
}
