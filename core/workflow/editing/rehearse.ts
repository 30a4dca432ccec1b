import { creators, type People } from "../../people/document.ts";
import { accept, type Refusal, type Result, refuse } from "../../refusal.ts";
import { type Decision, judge, type Outcome, type Verdict } from "../../review/round.ts";
import { type Candidate, candidates, type Seating, seat } from "../../review/seating.ts";
import type { Calendar } from "../../time/calendar.ts";
import { due } from "../../time/due.ts";
import { localDate } from "../../time/local.ts";
import { type OUTCOMES, type State, stateOf, type Transition, transitionOf, type Workflow } from "../document.ts";
import { judgeMove, type Move, moves, restingPlace, type Standing } from "../moves.ts";

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
  round: { seats: Seating[]; decisions: Decision[] } | null;
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
  const begun = arrive(stage, empty, stage.workflow.initial, {
    who: author,
    step: "Begin",
    note: "",
    told: [],
    chosen: [],
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
export function seatOf(stage: Stage, { state, round }: Rehearsal, person: string): Result<Seating> {
  const { name, review } = stateOf(stage.workflow, state);
  if (!review || !round) return refuse({ code: "round-closed", sentence: `No review is open in ${name}.` });
  const open = openSeats(stage, state, round).map((place) => round.seats[place] as Seating);
  const mine = open.find((place) => place.personId === person);
  if (mine) return accept(mine);
  const place = round.seats.findIndex((one) => one.personId === person);
  const own = round.seats[place];
  const decided = round.decisions.some((said) => said.seat === String(place));
  const who = personName(stage, person);
  const sentence = !own
    ? `${who} has no seat in this review.`
    : own.voidReason
      ? `The seat of ${who} does not count: ${own.voidReason}.`
      : decided
        ? `${who} has decided; the review waits for the others.`
        : `It is not the turn of ${who} yet: this review goes in order.`;
  return refuse({ code: "no-seat", sentence, who: open.map((place) => personName(stage, place.personId)) });
}

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
  return follow(stage, { ...rehearsal, publishAt: filled.publishAt ?? rehearsal.publishAt }, move.transition, {
    who: person,
    step: move.transition.name,
    note: filled.note,
    chosen: filled.chosen,
  });
}

/** Decides as a person, from their open seat; where that settles the round the piece moves on. */
export function decide(
  stage: Stage,
  rehearsal: Rehearsal,
  person: string,
  verdict: Verdict,
  note: string,
): Result<Rehearsal> {
  const mine = seatOf(stage, rehearsal, person);
  if (!mine.ok) return mine;
  if ((verdict === "return" || verdict === "decline") && note.trim() === "")
    return refuse({ code: "note-missing", field: "note", sentence: "Say why: the writer is told, with this note." });
  const round = rehearsal.round as NonNullable<Rehearsal["round"]>;
  const place = round.seats.indexOf(mine.value);
  const said: Decision = { seat: String(place), verdict, version: "1" };
  const state = stateOf(stage.workflow, rehearsal.state);
  const decided = { ...round, decisions: [...round.decisions, said] };
  const outcome = judged(state, decided);
  const behalf = mine.value.forPersonId ? ` for ${personName(stage, mine.value.forPersonId)}` : "";
  const step = `${VERDICT_WORDS[verdict]}${behalf}`;
  if (outcome.kind === "open") {
    const happened = { at: rehearsal.now, who: person, step, state: state.key, note, passedBy: [], told: [] };
    return accept({ ...rehearsal, round: decided, passage: [...rehearsal.passage, happened] });
  }
  const key = state.review?.[OUTCOME_OF[outcome.kind]] as string;
  const transition = transitionOf(stage.workflow, key) as Transition;
  return follow(stage, { ...rehearsal, round: decided }, transition, {
    who: person,
    step: `${step}: ${transition.name}`,
    note,
    chosen: [],
  });
}

/** Lets time pass, or ticks every point of the checklist: what the real piece's people do in between. */
export const later = (rehearsal: Rehearsal, now: number): Rehearsal => ({ ...rehearsal, now });
export const tick = (rehearsal: Rehearsal): Rehearsal => ({ ...rehearsal, openChecklist: [] });

/** People a sender would choose among for a step, the least busy first; in a rehearsal nobody is busy. */
export function choices(stage: Stage, rehearsal: Rehearsal, move: Move): Candidate[] {
  const mayDecide = move.to.review?.authorMayDecide ?? false;
  const people = asCandidates(stage, rehearsal.now);
  return move.choose.flatMap((rule) => candidates(rule, people, rehearsal.author, mayDecide));
}

/** The places of the seats that are asked to decide now. */
export function openSeats(stage: Stage, state: string, round: NonNullable<Rehearsal["round"]>): number[] {
  const outcome = judged(stateOf(stage.workflow, state), round);
  return outcome.kind === "open" ? outcome.openSeats.map(Number) : [];
}

export const personName = ({ people }: Stage, key: string) => people.people.find((one) => one.key === key)?.name ?? key;

const VERDICT_WORDS: Record<Verdict, string> = {
  approve: "Approved",
  return: "Returned",
  decline: "Declined",
  abstain: "Abstained",
};
const OUTCOME_OF: Record<"passed" | "returned" | "declined", (typeof OUTCOMES)[number]> = {
  passed: "approve",
  returned: "return",
  declined: "decline",
};

interface Way {
  who: string | null;
  step: string;
  note: string;
  chosen: string[];
}

function follow(stage: Stage, rehearsal: Rehearsal, transition: Transition, way: Way): Result<Rehearsal> {
  const told = meant(stage, rehearsal, transition.notify);
  return arrive(stage, rehearsal, transition.to, { ...way, told });
}

function arrive(stage: Stage, rehearsal: Rehearsal, to: string, way: Way & { told: string[] }): Result<Rehearsal> {
  const { state, passedBy } = restingPlace(stage.workflow, to);
  const assigned = meant(stage, rehearsal, state.arrival.assign);
  const seated = state.review
    ? seat(state.review, asCandidates(stage, rehearsal.now), rehearsal.author, way.chosen)
    : accept<Seating[]>([]);
  if (!seated.ok) return seated;
  const round = state.review ? { seats: seated.value, decisions: [] } : null;
  const called = round ? openSeats(stage, state.key, round).map((place) => round.seats[place]?.personId ?? "") : [];
  const told = [...way.told, ...assigned, ...called, ...meant(stage, { ...rehearsal, assigned }, state.arrival.notify)];
  return accept({
    ...rehearsal,
    state: state.key,
    dueAt: state.take ? due(stage.calendar, rehearsal.now, state.take) : null,
    assigned,
    openChecklist: state.arrival.checklist,
    round,
    passage: [
      ...rehearsal.passage,
      {
        at: rehearsal.now,
        who: way.who,
        step: way.step,
        state: state.key,
        note: way.note,
        passedBy: passedBy.map((one) => one.key),
        told: [...new Set(told)].filter((one) => one !== way.who),
      },
    ],
  });
}

function judged(state: State, { seats, decisions }: NonNullable<Rehearsal["round"]>): Outcome {
  return judge(
    {
      rule: state.review?.rule ?? "any",
      count: state.review?.count ?? 1,
      version: "1",
      seats: seats.map((one, place) => ({ id: String(place), void: one.voidReason !== null })),
    },
    decisions,
  );
}

/** Grants are not rehearsed, only the workflow: whoever it names may move the piece. */
function standing({ people, workflow }: Stage, rehearsal: Rehearsal, person: string): Standing {
  const roles = people.people.find((one) => one.key === person)?.roles ?? [];
  const principals = [
    `person:${person}`,
    ...roles.map((role) => `role:${role}`),
    ...(person === rehearsal.author ? ["author"] : []),
    ...(rehearsal.assigned.includes(person) || rehearsal.round?.seats.some((one) => one.personId === person)
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

function meant({ people }: Stage, { author, assigned }: Rehearsal, principals: readonly string[]): string[] {
  const active = people.people.filter((one) => one.active);
  return [
    ...new Set(
      principals.flatMap((principal) => {
        const name = principal.slice(principal.indexOf(":") + 1);
        if (principal === "author") return [author];
        if (principal === "assignee") return assigned;
        if (principal.startsWith("person:")) return active.filter((one) => one.key === name).map((one) => one.key);
        return active.filter((one) => one.roles.includes(name)).map((one) => one.key);
      }),
    ),
  ];
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
  }));
}

/** A refusal's "who could" in names: principals of the workflow and people alike. */
export function sayWho(stage: Stage, { who = [] }: Refusal): string[] {
  return who.map((one) => {
    const name = one.slice(one.indexOf(":") + 1);
    if (one.startsWith("role:")) return stage.people.roles.find((role) => role.key === name)?.name ?? name;
    if (one.startsWith("person:")) return personName(stage, name);
    return { author: "the author", assignee: "whoever has it" }[one] ?? one;
  });
}
