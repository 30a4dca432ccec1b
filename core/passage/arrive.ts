import { standInFor } from "../people/absence.ts";
import { type Cast, type Principal, peopleMeant } from "../people/principals.ts";
import { accept, type Refusal, type Result } from "../refusal.ts";
import { judge, type Stuck, sayStuck } from "../review/round.ts";
import { type Candidate, isVacant, type Seating, seat } from "../review/seating.ts";
import type { Calendar } from "../time/calendar.ts";
import { arriveBy, due } from "../time/due.ts";
import { uncapital } from "../words/say.ts";
import type { Review, State, Workflow } from "../workflow/document.ts";
import { restingPlace } from "../workflow/moves.ts";

/** A piece that comes into a state: whose it is, when readers should have it, who there is for it. */
export interface Arriving {
  authorId: string;
  /** Epoch milliseconds, or null. */
  publishAt: number | null;
  people: readonly Candidate[];
  calendar: Calendar;
  now: number;
}

/** How it comes, and what was said on the way. */
export interface Way {
  /** The key of the state it enters; it rests at the first that is not switched off. */
  to: string;
  /** People who are told besides, as the step says. */
  notify: readonly Principal[];
  /** Those the sender picked for the review; null where nobody chose: the least busy sit. */
  chosen: readonly string[] | null;
  /** A due date the sender chose, epoch milliseconds. */
  dueAt?: number | null;
}

/** Who has it now, and for whom while they are away. */
export interface Assigned {
  personId: string;
  forPersonId: string | null;
}

/** The round that opens, with its seats; `open` are the places of those asked first. */
export interface Opened {
  review: Review;
  seats: Seating[];
  open: number[];
  stuck: Stuck | null;
}

/** Everything a piece's arrival in a state lays down. */
export interface Arrival {
  state: State;
  passedBy: State[];
  dueAt: number | null;
  assigned: Assigned[];
  checklist: string[];
  /** Whom the state shows it to; null where it leaves nobody out. */
  viewers: Principal[] | null;
  round: Opened | null;
  /** People to be told that it is there, by id: who has it and who sits is told of that instead. */
  told: string[];
}

/**
 * What a piece's arrival in a state brings: the one answer of a step, of a change of workflow and of
 * the rehearsal. Whether it may travel was decided before.
 *
 * @returns the arrival, or why the choice of reviewers cannot stand
 */
export function arrive(workflow: Workflow, piece: Arriving, way: Way): Result<Arrival> {
  const { state, passedBy } = restingPlace(workflow, way.to);
  const nobodyYet: Cast = { authorId: piece.authorId, assigneeIds: [], people: piece.people };
  const assigned = eachOnce(peopleMeant(state.arrival.assign, nobodyYet).map((id) => coveredBy(id, piece.people)));
  const opened = state.review ? open(state.review, piece, way.chosen) : accept(null);
  if (!opened.ok) return opened;
  const round = opened.value;
  const assigneeIds = [
    ...assigned.map((one) => one.personId),
    ...(round?.seats.filter((one) => !one.voidReason).map((one) => one.personId) ?? []),
  ];
  return accept({
    state,
    passedBy,
    dueAt: way.dueAt ?? dueIn(state, piece),
    assigned,
    checklist: state.arrival.checklist,
    viewers: state.viewers.includes("anyone") ? null : [...new Set(state.viewers)],
    round,
    told: peopleMeant([...way.notify, ...state.arrival.notify], { ...nobodyYet, assigneeIds }),
  });
}

/** Why nobody should send a piece where it arrives: its review could never pass. Null where it could. */
export function refuseStuck({ state, round }: Arrival): Refusal | null {
  if (!round?.stuck) return null;
  const { rule, count = 1 } = round.review;
  return {
    code: "stuck",
    sentence: `${state.name} could never be passed: ${uncapital(sayStuck(round.stuck, { rule, count }))}`,
  };
}

/** When work in a state is due that begins now: before the publish date where the state says so and one is set. */
export function dueIn(state: State, { calendar, now, publishAt }: Pick<Arriving, "calendar" | "now" | "publishAt">) {
  if (state.dueBefore && publishAt !== null) return arriveBy(calendar, publishAt, state.dueBefore);
  return state.take ? due(calendar, now, state.take) : null;
}

/**
 * Who has a piece that is given to somebody: they, or while they are away whoever stands in; with
 * nobody it stays theirs.
 */
export function coveredBy(personId: string, people: readonly Candidate[]): Assigned {
  const owner = people.find((one) => one.id === personId);
  const standIn = owner?.away ? standInFor(owner, people, () => false) : null;
  return standIn ? { personId: standIn.id, forPersonId: personId } : { personId, forPersonId: null };
}

/** Whoever has it for themselves and for somebody away has it once: for themselves. */
function eachOnce(assigned: readonly Assigned[]): Assigned[] {
  const own = assigned.filter((one) => one.forPersonId === null);
  const covered = assigned.filter((one) => one.forPersonId !== null);
  return [...new Map([...covered, ...own].map((one) => [one.personId, one])).values()];
}

/** Seats a round before anybody has spoken, and says who is asked first. */
function open(
  review: Review,
  { authorId, people }: Pick<Arriving, "authorId" | "people">,
  chosen: readonly string[] | null,
): Result<Opened> {
  const seated = seat(review, people, authorId, chosen);
  if (!seated.ok) return seated;
  const seats = seated.value;
  const outcome = judge(
    {
      rule: review.rule,
      count: review.count ?? 1,
      version: "",
      seats: seats.map(({ voidReason, flag }, i) => ({
        id: String(i),
        void: voidReason !== null,
        vacant: isVacant(flag),
      })),
    },
    [],
  );
  if (outcome.kind !== "open") throw new Error("a round nobody has spoken in was judged as closed");
  return accept({ review, seats, open: outcome.openSeats.map(Number), stuck: outcome.stuck });
}
