import type { Principal } from "../people/principals.ts";
import type { Refusal } from "../refusal.ts";
import { type SeatRule, type State, stateOf, type Transition, transitionOf, type Workflow } from "./document.ts";

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
  return { ...move, refusals: [...move.refusals, ...unanswered(move, sending)] };
}

/**
 * A step that is not taken by hand: by a review's outcome, by a planned release. Nobody need be named
 * on it; what it asks must be there, and who causes it must be one who may release where it reaches readers.
 *
 * @param sending what came along, where it should be judged as well
 */
export function moveAlong(
  workflow: Workflow,
  transition: Transition,
  standing: Standing,
  sending?: Pick<Sending, "note">,
): Move {
  const to = restingPlace(workflow, transition.to).state;
  const move = moveTo(transition, to, standing);
  const refusals = [...reachingReaders(transition, to, standing), ...requirements(transition, standing)];
  return { ...move, refusals: [...refusals, ...(sending ? unanswered(move, sending) : [])] };
}

/** Whether a step names a person: what a release planned by them asks besides the permission. */
export const isNamedOn = ({ by }: Transition, { principals }: Pick<Standing, "principals">) =>
  by.some((who) => who === "anyone" || principals.has(who));

function consider(workflow: Workflow, transition: Transition, standing: Standing): Move {
  const to = restingPlace(workflow, transition.to).state;
  const refusals = [...permission(transition, to, standing), ...requirements(transition, standing)];
  return { ...moveTo(transition, to, standing), refusals };
}

function moveTo(transition: Transition, to: State, standing: Standing): Omit<Move, "refusals"> {
  const seats = to.review?.seats ?? [];
  return {
    transition,
    to,
    asks: [
      ...(transition.requires.includes("note") || transition.withdraws ? (["note"] as const) : []),
      ...(transition.requires.includes("publish-date") && standing.publishAt === null
        ? (["publish-date"] as const)
        : []),
    ],
    choose: seats.filter((seat) => "role" in seat && seat.pick === "sender") as Move["choose"],
  };
}

/** What a step asks of the sender and was not given. */
function* unanswered(
  { transition, asks }: Pick<Move, "transition" | "asks">,
  { note }: Pick<Sending, "note">,
): Generator<Refusal> {
  if (asks.includes("note") && note.trim() === "") {
    const sentence = transition.withdraws
      ? `${transition.name} takes it away from readers: say why.`
      : `${transition.name} needs a note: what changed, and why.`;
    yield { code: "note-missing", field: "note", sentence };
  }
  if (asks.includes("publish-date")) {
    yield {
      code: "publish-date-missing",
      field: "publishAt",
      sentence: `${transition.name} needs the date it should reach readers.`,
    };
  }
}

function* permission(transition: Transition, to: State, standing: Standing): Generator<Refusal> {
  if (!isNamedOn(transition, standing)) {
    yield { code: "not-yours", sentence: `${transition.name} is not yours to take.`, who: transition.by };
  } else if (!standing.maySend) {
    yield { code: "not-granted", sentence: `No role of yours lets you move this piece.`, who: transition.by };
  } else yield* reachingReaders(transition, to, standing);
}

function* reachingReaders(transition: Transition, to: State, standing: Standing): Generator<Refusal> {
  if (to.kind === "live" && !standing.mayRelease)
    yield {
      code: "may-not-release",
      sentence: `${transition.name} reaches readers, and no role of yours lets you release.`,
    };
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
