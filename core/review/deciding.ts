import { accept, type Refusal, type Result, refuse } from "../refusal.ts";
import { type Review, type State, type Transition, transitionOf, type Workflow } from "../workflow/document.ts";
import { type Move, moveAlong, type Standing } from "../workflow/moves.ts";
import { type Decision, judge, type Outcome, type Round, type Verdict } from "./round.ts";
import { VOID_REASONS, type VoidReason } from "./seating.ts";

/** A seat as somebody who would decide from it needs to know it. */
export interface Place {
  id: string;
  personId: string;
  name: string;
  /** Whose seat it is, when a stand-in sits. */
  forPersonId: string | null;
  voidReason: VoidReason | null;
  /** Whether nobody can decide from it at present. */
  vacant: boolean;
}

/** A round as it stands: its rule, the words under review, its seats in order and what was said. */
export interface Standoff {
  rule: Round["rule"];
  count: number;
  version: string;
  places: readonly Place[];
  decisions: readonly Decision[];
}

/** What is known where somebody would decide; `round` is null where no review is open. */
export interface Table {
  workflow: Workflow;
  state: State;
  round: Standoff | null;
  /** Whether a role lets this person decide here. */
  mayDecide(personId: string): boolean;
}

const OUTCOMES = { approve: "passed", return: "returned", decline: "declined" } as const;

/** What a round amounts to. */
export const outcomeOf = ({ places, decisions, ...round }: Standoff): Outcome =>
  judge(
    { ...round, seats: places.map(({ id, voidReason, vacant }) => ({ id, void: voidReason !== null, vacant })) },
    decisions,
  );

/**
 * Whether a person may decide here now, and from which seat: the one answer of the page, of *Why?*,
 * of the rehearsal and of the command. A decision may be changed until the round closes.
 *
 * @returns the seat, or what stands in the way and who could
 */
export function seatToDecideFrom(table: Table, personId: string): Result<Place> {
  const { round, state } = table;
  if (!round || !state.review)
    return refuse({ code: "round-closed", sentence: `No review of this piece is open; it is in ${state.name}.` });
  const outcome = outcomeOf(round);
  const open = outcome.kind === "open" ? outcome.openSeats : [];
  const asked = round.places.filter((place) => open.includes(place.id));
  const who = asked.map((place) => place.name);
  const own = round.places.filter((place) => place.personId === personId);
  const counting = own.filter((place) => place.voidReason === null);
  const spoken = (place: Place) =>
    round.decisions.some((said) => said.seat === place.id && said.version === round.version);
  const place = counting.find((one) => open.includes(one.id)) ?? counting.find(spoken);
  if (place) {
    const rightful = [personId, place.forPersonId].some((id) => id !== null && table.mayDecide(id));
    if (rightful) return accept(place);
    const others = asked.filter((one) => one.personId !== personId && table.mayDecide(one.personId));
    const sentence = "No role of yours lets you decide in a review here.";
    return refuse({ code: "not-granted", sentence, who: others.map((one) => one.name) });
  }
  const [first] = own;
  if (first?.voidReason)
    return refuse({ code: "no-seat", sentence: `Your seat does not count: ${VOID_REASONS[first.voidReason]}.`, who });
  if (first)
    return refuse({ code: "not-your-turn", sentence: "It is not your turn yet: this review goes in order.", who });
  return refuse({ code: "no-seat", sentence: "You have no seat in this review.", who });
}

/** What somebody says. */
export interface Said {
  verdict: Verdict;
  note: string;
  /** The publish date set for the piece, epoch milliseconds, or null. */
  publishAt: number | null;
  /** In a sign-off their name as they typed it; null where it is not asked yet. */
  signature: string | null;
}

/** What follows from a decision: the seat it is made from, what the round amounts to then, and where the piece goes. */
export interface Decided {
  place: Place;
  outcome: Outcome;
  /** The step the outcome takes; null while the round is open. */
  move: Move | null;
}

/**
 * Judges a decision somebody would make, with everything that follows. An approval is refused while
 * what its outcome's step asks is open, whether or not it is the last one needed.
 *
 * @param standing the person at the piece, for what the outcome's step asks
 */
export function decide(table: Table, standing: Standing, personId: string, said: Said): Result<Decided> {
  const from = seatToDecideFrom(table, personId);
  if (!from.ok) return from;
  const place = from.value;
  const { workflow, state } = table;
  const review = state.review as Review;
  const round = table.round as Standoff;
  const { verdict } = said;
  if (verdict === "decline" && !review.decline)
    return refuse({ code: "no-decline", sentence: `${state.name} offers no declining.` });
  if ((verdict === "return" || verdict === "decline") && said.note.trim() === "")
    return refuse({
      code: "note-missing",
      field: "note",
      sentence: "Say why: the writer is told at once, with this note.",
    });
  if (review.signed && verdict === "approve" && said.signature !== null && !names(said.signature, place.name))
    return refuse({
      code: "signature",
      field: "signature",
      sentence: `To sign, type your name as it stands here: ${place.name}.`,
    });
  const decisions = [...round.decisions, { seat: place.id, verdict, version: round.version }];
  const outcome = outcomeOf({ ...round, decisions });
  const step = outcomeStep(workflow, review, outcome);
  const aimed = verdict === "abstain" ? step : transitionOf(workflow, review[verdict] ?? "");
  const closing = step !== null;
  const blocked = aimed && blockedStep(workflow, aimed, standing, said, closing);
  if (blocked) return refuse(blocked);
  return accept({ place, outcome, move: step && moveAlong(workflow, step, standing) });
}

/** What would follow from each verdict a review offers, its note given: for a page that offers them. */
export function foresee(
  table: Table,
  standing: Standing,
  personId: string,
): { verdict: Verdict; follows: Result<Decided> }[] {
  const { review } = table.state;
  const offered = VERDICTS.filter((verdict) => verdict !== "decline" || review?.decline !== undefined);
  const said = { note: "…", publishAt: standing.publishAt, signature: null };
  return offered.map((verdict) => ({ verdict, follows: decide(table, standing, personId, { verdict, ...said }) }));
}

/** Whether what somebody typed is a name, however it is spaced and written large or small. */
function names(typed: string, name: string): boolean {
  const plain = (words: string) => words.normalize("NFC").trim().replace(/\s+/g, " ").toLowerCase();
  return plain(typed) === plain(name);
}

const VERDICTS: readonly Verdict[] = ["approve", "return", "decline", "abstain"];

/** The step an outcome takes; null while the round is open. */
export function outcomeStep(workflow: Workflow, review: Review, outcome: Outcome): Transition | null {
  if (outcome.kind === "open") return null;
  const [key] = Object.entries(OUTCOMES).find(([, kind]) => kind === outcome.kind) as [
    "approve" | "return" | "decline",
    string,
  ];
  return transitionOf(workflow, review[key] ?? "") ?? null;
}

/** What an outcome's step asks that is not there; letting out to readers is asked of whoever closes the round. */
function blockedStep(
  workflow: Workflow,
  step: Transition,
  standing: Standing,
  { note, publishAt }: Said,
  closing: boolean,
): Refusal | null {
  const move = moveAlong(workflow, step, { ...standing, publishAt: publishAt ?? standing.publishAt }, { note });
  const refusals = closing ? move.refusals : move.refusals.filter((refusal) => refusal.code !== "may-not-release");
  return refusals[0] ?? null;
}
