import { arrive, refuseStuck } from "../passage/arrive.ts";
import { creators, type People } from "../people/document.ts";
import { type Principal, peopleMeant, sayPrincipal } from "../people/principals.ts";
import { accept, type Refusal, type Result, refuse } from "../refusal.ts";
import { decide, foresee, outcomeOf, type Place, seatToDecideFrom, type Table } from "../review/deciding.ts";
import { type Call, callsBetween, callsOf, takesOver } from "../review/reminding.ts";
import type { Decision, Outcome, Verdict } from "../review/round.ts";
import { type Candidate, candidates, isVacant, type Seating } from "../review/seating.ts";
import type { Calendar } from "../time/calendar.ts";
import { localDate } from "../time/local.ts";
import { list } from "../words/say.ts";
import { type Review, stateOf, type Transition, type Workflow } from "../workflow/document.ts";
import { judgeMove, type Move, moves, type Standing } from "../workflow/moves.ts";

/** What a rehearsal plays in; people are named by key. */
export interface Stage {
  workflow: Workflow;
  people: People;
  calendar: Calendar;
}

/** Something that happened: when, who did it, what, and who would be told or have it. */
export interface Happening {
  at: number;
  who: string | null;
  step: string;
  state: string;
  note: string;
  passedBy: string[];
  told: string[];
}

/** An imaginary piece on its way. A value: every step gives the next one, so one can branch back to any. */
export interface Rehearsal {
  author: string;
  state: string;
  /** Epoch milliseconds: the rehearsal's own time. */
  now: number;
  dueAt: number | null;
  publishAt: number | null;
  assigned: string[];
  openChecklist: string[];
  round: { seats: Seating[]; decisions: Decision[]; openedAt: number } | null;
  passage: Happening[];
}

/** What the sender fills in. */
export interface Filled {
  note: string;
  publishAt: number | null;
  chosen: string[];
}

/** Begins an imaginary piece by an author, in the workflow's first state. */
export function begin(stage: Stage, author: string, now: number): Rehearsal {
  const empty: Rehearsal = {
    author,
    state: stage.workflow.initial,
    now,
    dueAt: null,
    publishAt: null,
    assigned: [],
    openChecklist: [],
    round: null,
    passage: [],
  };
  const begun = come(stage, empty, stage.workflow.initial, {
    who: author,
    step: "Begin",
    note: "",
    notify: [],
    chosen: null,
  });
  return begun.ok ? begun.value : empty;
}

/** People who could be the author of the imaginary piece. */
export const authors = ({ people }: Stage) => creators(people);

/** What a person sees next to the piece: every step with its refusals, as the real page shows it. */
export function offers(stage: Stage, rehearsal: Rehearsal, person: string): Move[] {
  return moves(stage.workflow, standing(stage, rehearsal, person));
}

/** The seat a person may decide from now, or why there is none. */
export const seatOf = (stage: Stage, rehearsal: Rehearsal, person: string): Result<Place> =>
  seatToDecideFrom(tableOf(stage, rehearsal), person);

/** Takes a step as a person. The imaginary piece's fields are complete and its comments settled. */
export function take(
  stage: Stage,
  rehearsal: Rehearsal,
  person: string,
  key: string,
  filled: Filled,
): Result<Rehearsal> {
  const move = judgeMove(stage.workflow, standing(stage, rehearsal, person), key, filled);
  if ("code" in move) return refuse(move);
  const [refusal] = move.refusals;
  if (refusal) return refuse(refusal);
  return follow(
    stage,
    { ...rehearsal, publishAt: filled.publishAt ?? rehearsal.publishAt },
    move.transition,
    { who: person, step: move.transition.name, note: filled.note, chosen: filled.chosen },
    true,
  );
}

/**
 * Decides as a person, from their open seat; where that settles the round the piece moves on.
 *
 * @param chosen whom they pick where the next review asks for it
 */
export function decideAs(
  stage: Stage,
  rehearsal: Rehearsal,
  person: string,
  verdict: Verdict,
  { note, chosen, publishAt }: Filled,
): Result<Rehearsal> {
  const table = tableOf(stage, rehearsal);
  const decided = decide(table, standing(stage, rehearsal, person), person, {
    verdict,
    note,
    publishAt,
    signature: null,
  });
  if (!decided.ok) return decided;
  const { place, move } = decided.value;
  const round = rehearsal.round as NonNullable<Rehearsal["round"]>;
  const said: Decision = { seat: place.id, verdict, version: VERSION };
  const after = { ...rehearsal, round: { ...round, decisions: [...round.decisions, said] } };
  const behalf = place.forPersonId ? ` for ${personName(stage, place.forPersonId)}` : "";
  const step = `${VERDICT_WORDS[verdict]}${behalf}`;
  if (!move) {
    const happened = { at: rehearsal.now, who: person, step, state: rehearsal.state, note, passedBy: [], told: [] };
    return accept({ ...after, passage: [...rehearsal.passage, happened] });
  }
  return follow(stage, after, move.transition, {
    who: person,
    step: `${step}: ${move.transition.name}`,
    note,
    chosen: move.choose.length > 0 ? chosen : [],
  });
}

/** The steps that a person's decision could make the piece take now: whom they would pick is asked beforehand. */
export function decisionsLead(stage: Stage, rehearsal: Rehearsal, person: string): Move[] {
  return foresee(tableOf(stage, rehearsal), standing(stage, rehearsal, person), person).flatMap(({ follows }) =>
    follows.ok && follows.value.move ? [follows.value.move] : [],
  );
}

/**
 * Lets time pass. What the review does by the clock on the way happens: whoever has not decided is reminded, a
 * late seat goes on.
 *
 * @returns the piece as it was and, one after the other, as each call left it; the last is at the new time
 */
export function later(stage: Stage, rehearsal: Rehearsal, now: number): Rehearsal[] {
  const { review } = stateOf(stage.workflow, rehearsal.state);
  if (!review || !rehearsal.round) return [{ ...rehearsal, now }];
  const calls = callsOf(review, { openedAt: rehearsal.round.openedAt, dueAt: rehearsal.dueAt }, stage.calendar);
  const steps = [rehearsal];
  for (const call of callsBetween(calls, rehearsal.now, now).come)
    steps.push(callLate(stage, { ...(steps.at(-1) ?? rehearsal), now: call.at }, review, call));
  return steps.with(-1, { ...(steps.at(-1) ?? rehearsal), now });
}

function callLate(stage: Stage, rehearsal: Rehearsal, review: Review, { does }: Call): Rehearsal {
  const round = rehearsal.round as NonNullable<Rehearsal["round"]>;
  const people = asCandidates(stage, rehearsal.now);
  const open = openSeats(stage, rehearsal);
  let { seats } = round;
  const told = open.flatMap((place) => seats[place]?.personId ?? []);
  const passed: string[] = [];
  for (const place of does === "overdue" ? open : []) {
    const holder = people.find((one) => one.id === seats[place]?.personId);
    const seated = new Set(seats.filter((one) => !one.voidReason).map((one) => one.personId));
    const to = holder ? takesOver(review, holder, { people, authorId: rehearsal.author, seated }) : null;
    if (!holder || !to) continue;
    passed.push(`${to.name} sits for ${holder.name} now`);
    told.push(to.id);
    seats = seats.with(place, { personId: to.id, forPersonId: null, voidReason: null, flag: null });
  }
  const meant = does === "overdue" && passed.length === 0 && review.overdue?.to ? [review.overdue.to] : [];
  const cast = { authorId: rehearsal.author, assigneeIds: told, people };
  const happened: Happening = {
    at: rehearsal.now,
    who: null,
    step: does === "remind" ? "Reminder" : "Late",
    state: rehearsal.state,
    note: list(passed),
    passedBy: [],
    told: [...new Set([...told, ...peopleMeant(meant, cast)])],
  };
  return { ...rehearsal, round: { ...round, seats }, passage: [...rehearsal.passage, happened] };
}

/** Ticks every point of the checklist, as the real piece's people do in between. */
export const tick = (rehearsal: Rehearsal): Rehearsal => ({ ...rehearsal, openChecklist: [] });

/** People a sender would choose among for a step, the least busy first; in a rehearsal nobody is busy. */
export function choices(stage: Stage, rehearsal: Rehearsal, move: Move): Candidate[] {
  const mayDecide = move.to.review?.authorMayDecide ?? false;
  const people = asCandidates(stage, rehearsal.now);
  return move.choose.flatMap((rule) => candidates(rule, people, rehearsal.author, mayDecide));
}

/** What the open review amounts to; null where none is open. */
export function reviewOf(stage: Stage, rehearsal: Rehearsal): Outcome | null {
  const { round } = tableOf(stage, rehearsal);
  return round && outcomeOf(round);
}

/** The places of the seats that are asked to decide now. */
export function openSeats(stage: Stage, rehearsal: Rehearsal): number[] {
  const outcome = reviewOf(stage, rehearsal);
  return outcome?.kind === "open" ? outcome.openSeats.map(Number) : [];
}

export const personName = ({ people }: Stage, key: string) => people.people.find((one) => one.key === key)?.name ?? key;

const VERDICT_WORDS: Record<Verdict, string> = {
  approve: "Approved",
  return: "Returned",
  decline: "Declined",
  abstain: "Abstained",
};
/** The imaginary piece has one version. */
const VERSION = "1";

interface Way {
  who: string | null;
  step: string;
  note: string;
  chosen: string[] | null;
}

/** @param sent whether somebody sends it, who is refused what could never be passed; a round's outcome is not */
function follow(stage: Stage, rehearsal: Rehearsal, transition: Transition, way: Way, sent = false): Result<Rehearsal> {
  return come(stage, rehearsal, transition.to, { ...way, notify: transition.notify }, sent);
}

function come(
  stage: Stage,
  rehearsal: Rehearsal,
  to: string,
  way: Way & { notify: readonly Principal[] },
  sent = false,
): Result<Rehearsal> {
  const arrived = arrive(
    stage.workflow,
    {
      authorId: rehearsal.author,
      publishAt: rehearsal.publishAt,
      people: asCandidates(stage, rehearsal.now),
      calendar: stage.calendar,
      now: rehearsal.now,
    },
    { to, notify: way.notify, chosen: way.chosen },
  );
  if (!arrived.ok) return arrived;
  const stuck = sent && refuseStuck(arrived.value);
  if (stuck) return refuse(stuck);
  const { state, passedBy, dueAt, assigned, checklist, round, told } = arrived.value;
  const having = assigned.map((one) => one.personId);
  const called = round?.open.map((place) => round.seats[place]?.personId ?? "") ?? [];
  return accept({
    ...rehearsal,
    state: state.key,
    dueAt,
    assigned: having,
    openChecklist: checklist,
    round: round && { seats: round.seats, decisions: [], openedAt: rehearsal.now },
    passage: [
      ...rehearsal.passage,
      {
        at: rehearsal.now,
        who: way.who,
        step: way.step,
        state: state.key,
        note: way.note,
        passedBy: passedBy.map((one) => one.key),
        told: [...new Set([...having, ...called, ...told])].filter((one) => one !== way.who),
      },
    ],
  });
}

function tableOf(stage: Stage, { state, round }: Rehearsal): Table {
  const { workflow } = stage;
  const here = stateOf(workflow, state);
  return {
    workflow,
    state: here,
    mayDecide: () => true,
    round: round && {
      rule: here.review?.rule ?? "any",
      count: here.review?.count ?? 1,
      version: VERSION,
      places: round.seats.map((one, place) => ({
        id: String(place),
        name: personName(stage, one.personId),
        vacant: isVacant(one.flag),
        ...one,
      })),
      decisions: round.decisions,
    },
  };
}

/** Grants are not rehearsed, only the workflow: whoever it names may move the piece. */
function standing({ people, workflow }: Stage, rehearsal: Rehearsal, person: string): Standing {
  const roles = people.people.find((one) => one.key === person)?.roles ?? [];
  const principals = [
    `person:${person}`,
    ...roles.map((role) => `role:${role}`),
    ...(person === rehearsal.author ? ["author"] : []),
    ...(rehearsal.assigned.includes(person) ||
    rehearsal.round?.seats.some((one) => one.personId === person && !one.voidReason)
      ? ["assignee"]
      : []),
  ];
  return {
    state: stateOf(workflow, rehearsal.state).key,
    principals: new Set(principals),
    fieldProblems: [],
    openChecklist: rehearsal.openChecklist,
    openComments: 0,
    publishAt: rehearsal.publishAt,
    maySend: true,
    mayRelease: true,
  };
}

function asCandidates({ people, calendar }: Stage, now: number): Candidate[] {
  const today = localDate(now, calendar.timeZone);
  return people.people.map((one) => ({
    id: one.key,
    key: one.key,
    name: one.name,
    active: one.active,
    roles: one.roles,
    load: 0,
    away: (one.away ?? []).some(({ from, until }) => from <= today && today <= until),
    standInId: one.standIn ?? null,
    decides: true,
  }));
}

/** A refusal's "who could" in names: principals of the workflow, and people by name. */
export function sayWho(stage: Stage, { who = [] }: Refusal): string[] {
  const names = {
    person: (key: string) => personName(stage, key),
    role: (key: string) => stage.people.roles.find((role) => role.key === key)?.name ?? key,
  };
  return who.map((one) => (/^(author|assignee|anyone|[a-z-]+:.*)$/.test(one) ? sayPrincipal(one, names) : one));
}
