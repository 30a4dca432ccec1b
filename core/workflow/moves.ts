import type { Refusal } from "../refusal.ts";
import {
  type Principal,
  type SeatRule,
  type State,
  stateOf,
  type Transition,
  transitionOf,
  type Workflow,
} from "./document.ts";

/** What is known of a piece and of the person asking, when it is asked what may happen next. */
export interface Standing {
  state: string;
  /** Every principal the person answers to here: `author`, `role:checker`, `person:wim` … without `anyone`. */
  principals: ReadonlySet<Principal>;
  /** What the kind's fields lack, a sentence each. */
  fieldProblems: readonly string[];
  /** Points of the checklist still open. */
  openChecklist: readonly string[];
  openComments: number;
  /** The publish date wished for, epoch milliseconds; null when none is set. */
  publishAt: number | null;
  /** Whether a grant lets the person move pieces here, and let them out to readers. */
  maySend: boolean;
  mayRelease: boolean;
}

/** What a person fills in when sending. */
export interface Sending {
  note: string;
  publishAt: number | null;
}

/** One action the piece's state offers, open or closed to this person. */
export interface Move {
  transition: Transition;
  /** Where the piece arrives, switched-off states passed by. */
  to: State;
  /** Why it is closed; empty when it is open. */
  refusals: Refusal[];
  /** What the sending must still bring along. */
  asks: ("note" | "publish-date")[];
  /** Seats the sender fills. */
  choose: Extract<SeatRule, { role: string }>[];
}

/**
 * Where a piece that enters `key` comes to rest: a switched-off state is left at once by its bypass.
 *
 * @throws Error when the bypasses lead in a circle, which `check` finds before a workflow is used
 */
export function restingPlace(workflow: Workflow, key: string): { state: State; passedBy: State[] } {
  const passedBy: State[] = [];
  let state = stateOf(workflow, key);
  while (state.bypass) {
    if (passedBy.includes(state)) throw new Error(`the switched-off states of ${workflow.key} lead in a circle`);
    passedBy.push(state);
    state = stateOf(workflow, (transitionOf(workflow, state.bypass) as Transition).to);
  }
  return { state, passedBy };
}

/**
 * What may happen next to a piece, in the order of the document: every transition that leaves its
 * state, closed ones with their reasons. A review's outcomes belong to its round and are left out
 * unless somebody may also take them by hand.
 */
export function moves(workflow: Workflow, standing: Standing): Move[] {
  return workflow.transitions
    .filter((transition) => transition.from.includes(standing.state) && transition.by.length > 0)
    .map((transition) => consider(workflow, transition, standing));
}

/**
 * Judges one move with what the sender filled in.
 *
 * @returns the move; it may be made when `refusals` is empty
 */
export function judgeMove(workflow: Workflow, standing: Standing, key: string, sending: Sending): Move | Refusal {
  const transition = transitionOf(workflow, key);
  if (!transition?.from.includes(standing.state) || transition.by.length === 0) {
    const state = stateOf(workflow, standing.state);
    return { code: "no-such-move", sentence: `From ${state.name} there is no step of that name.` };
  }
  const move = consider(workflow, transition, { ...standing, publishAt: sending.publishAt ?? standing.publishAt });
  if (move.asks.includes("note") && sending.note.trim() === "") {
    move.refusals.push({
      code: "note-missing",
      field: "note",
      sentence: `${transition.name} needs a note: what changed, and why.`,
    });
  }
  if (move.asks.includes("publish-date")) {
    move.refusals.push({
      code: "publish-date-missing",
      field: "publishAt",
      sentence: `${transition.name} needs the date it should reach readers.`,
    });
  }
  return move;
}

function consider(workflow: Workflow, transition: Transition, standing: Standing): Move {
  const to = restingPlace(workflow, transition.to).state;
  const seats = to.review?.seats ?? [];
  return {
    transition,
    to,
    refusals: [...permission(transition, to, standing), ...requirements(transition, standing)],
    asks: [
      ...(transition.requires.includes("note") ? (["note"] as const) : []),
      ...(transition.requires.includes("publish-date") && standing.publishAt === null
        ? (["publish-date"] as const)
        : []),
    ],
    choose: seats.filter((seat) => "role" in seat && seat.pick === "sender") as Move["choose"],
  };
}

function* permission(transition: Transition, to: State, standing: Standing): Generator<Refusal> {
  const named = transition.by.some((who) => who === "anyone" || standing.principals.has(who));
  if (!named) {
    yield { code: "not-yours", sentence: `${transition.name} is not yours to take.`, who: transition.by };
  } else if (!standing.maySend) {
    yield { code: "not-granted", sentence: `No grant of yours lets you move this piece.`, who: transition.by };
  } else if (to.kind === "live" && !standing.mayRelease) {
    yield {
      code: "not-granted",
      sentence: `${transition.name} reaches readers, and no grant of yours lets you release.`,
    };
  }
}

function* requirements(transition: Transition, standing: Standing): Generator<Refusal> {
  for (const requirement of transition.requires) {
    if (requirement === "fields" && standing.fieldProblems.length > 0) {
      yield { code: "fields", sentence: "The fields are not complete.", missing: [...standing.fieldProblems] };
    }
    if (requirement === "checklist" && standing.openChecklist.length > 0) {
      yield { code: "checklist", sentence: "The checklist is not done.", missing: [...standing.openChecklist] };
    }
    if (requirement === "comments-settled" && standing.openComments > 0) {
      const one = standing.openComments === 1;
      yield {
        code: "comments-open",
        sentence: `${one ? "One comment is" : `${standing.openComments} comments are`} not settled.`,
      };
    }
    if (requirement === "not-author" && standing.principals.has("author")) {
      yield { code: "not-author", sentence: "The author of a piece does not take this step." };
    }
  }
}
