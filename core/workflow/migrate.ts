import canonicalize from "canonicalize";
import type { State, Workflow } from "./document.ts";
import { graphOf, reached } from "./graph.ts";
import { restingPlace } from "./moves.ts";

/** What becomes of the pieces in one state when their workflow changes. */
export type Fate =
  | { kind: "stays" }
  | { kind: "moves"; to: string }
  /** They finish on the revision they travel on. */
  | { kind: "finishes-there" };

/** What becomes of an open review round. */
export type RoundFate = "continues" | "restarts" | "closes";

/** A state of the revision in use and what is proposed for the pieces in it; null where nothing fits. */
export interface Proposal {
  state: State;
  fate: Fate | null;
  /** Why, in a few words. */
  because: string;
}

/**
 * Proposes, for every state of the workflow that pieces travel on, where they go in the next one:
 * where the state has the same key they stay; else to the state of the same name; else to one of
 * the same kind, the nearest on the main line. A switched-off state is passed by.
 *
 * Whatever is chosen in the end, a piece comes to rest at a state of the next workflow. Since in a
 * sound workflow every state has a way to an end, nobody is stranded.
 */
export function propose(from: Workflow, to: Workflow): Proposal[] {
  return from.states.map((state): Proposal => {
    const same = to.states.find((candidate) => candidate.key === state.key);
    if (same) return settled(to, state, same.key, same.bypass ? `${same.name} is switched off` : "the same state");
    const named = to.states.find((candidate) => alike(candidate.name, state.name));
    if (named) return settled(to, state, named.key, "the same name");
    const nearest = nearestOfKind(from, to, state);
    if (nearest) return settled(to, state, nearest.key, `the nearest ${KIND_WORDS[state.kind]}`);
    return { state, fate: null, because: `nothing of its kind (${KIND_WORDS[state.kind]}) is left` };
  });
}

/**
 * Where a piece comes to rest under a fate; null where it keeps its present revision.
 *
 * @throws Error when the fate names a state the workflow does not have
 */
export function landing(to: Workflow, stateKey: string, fate: Fate): State | null {
  if (fate.kind === "finishes-there") return null;
  return restingPlace(to, fate.kind === "stays" ? stateKey : fate.to).state;
}

/**
 * What becomes of an open round: it goes on where the piece stays and the review asks the same of
 * the same seats, is opened anew where the review differs, and closes where the piece leaves for a
 * state without one.
 */
export function roundFate(before: State, after: State): RoundFate {
  if (!after.review) return "closes";
  return before.key === after.key && asksTheSame(before, after) ? "continues" : "restarts";
}

function asksTheSame({ review: before }: State, { review: after }: State): boolean {
  const asked = (review: State["review"]) =>
    canonicalize([review?.rule, review?.count ?? null, review?.authorMayDecide, review?.seats]);
  return asked(before) === asked(after);
}

/**
 * Whether a piece comes to a state only past a review that is switched on: put there at once, it
 * would have passed that review by.
 */
export function liesBehindReview(workflow: Workflow, key: string): boolean {
  const { states, number, next } = graphOf(workflow, true);
  const onward = next.map((following, i) => (states[i]?.kind === "review" && !states[i]?.bypass ? [] : following));
  const seen = reached({ next: onward }, [number.get(workflow.initial) as number]);
  return !seen[number.get(key) as number];
}

/** Whether pieces in flight may be put in a state: into live they come by a release alone. */
export const mayLand = (state: State): boolean => state.kind !== "live";

function settled(to: Workflow, state: State, key: string, because: string): Proposal {
  const rest = restingPlace(to, key).state;
  if (state.kind !== "live" && !mayLand(rest))
    return { state, fate: null, because: `from ${rest.name} they would be out at once` };
  return { state, because, fate: rest.key === state.key ? { kind: "stays" } : { kind: "moves", to: rest.key } };
}

/** The state of one kind that lies nearest to where the other lay on its main line, the earlier of two. */
function nearestOfKind(from: Workflow, to: Workflow, state: State): State | undefined {
  const share = (workflow: Workflow, key: string) => {
    const at = workflow.mainLine.indexOf(key);
    return at < 0 ? 0.5 : at / Math.max(1, workflow.mainLine.length - 1);
  };
  const here = share(from, state.key);
  return to.states
    .filter((candidate) => candidate.kind === state.kind)
    .sort((a, b) => Math.abs(share(to, a.key) - here) - Math.abs(share(to, b.key) - here))[0];
}

const alike = (a: string, b: string) => a.trim().toLocaleLowerCase() === b.trim().toLocaleLowerCase();

/** A state's kind, as the trade says it. */
export const KIND_WORDS: Record<State["kind"], string> = {
  writing: "writing",
  review: "review",
  ready: "approved",
  live: "live",
  parked: "set aside",
  closed: "closed",
};
