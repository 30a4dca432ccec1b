import fc from "fast-check";
import { type People, readPeople } from "../people/document.ts";
import type { Verdict } from "../review/round.ts";
import { isVacant } from "../review/seating.ts";
import type { Calendar } from "../time/calendar.ts";
import { stateOf } from "../workflow/document.ts";
import {
  begin,
  choices,
  decideAs,
  decisionsLead,
  later,
  offers,
  openSeats,
  type Rehearsal,
  reviewOf,
  type Stage,
  take,
  tick,
} from "./rehearse.ts";
import { lines } from "./samples.ts";

/** Pieces travel at random under random acts; what `domain.md` says always holds is checked after each. */
const RUNS = 4000;
const NOW = Date.parse("2026-11-24T09:00Z");
const HOUR = 3_600_000;
const HOURS: [string, string][] = [["09:00", "17:30"]];
const calendar: Calendar = {
  timeZone: "Europe/Rome",
  week: { mon: HOURS, tue: HOURS, wed: HOURS, thu: HOURS, fri: HOURS },
  closed: [],
  special: [],
};

const KEYS = ["tobia", "wim", "jorun", "petra", "ansel", "lene", "kai"];
const staff = fc
  .tuple(
    ...KEYS.map((key) =>
      fc.record({
        roles: fc.subarray(["writer", "checker", "copy-editor", "safety", "chief"]),
        standIn: fc.option(fc.constantFrom(...KEYS.filter((one) => one !== key)), { nil: undefined, freq: 2 }),
        away: fc.constantFrom(false, false, true),
        active: fc.constantFrom(true, true, true, false),
      }),
    ),
  )
  .map((all) => peopleOf(all.map((one, i) => ({ ...one, key: KEYS[i] ?? "" }))));

interface Drawn {
  key: string;
  roles: string[];
  standIn: string | undefined;
  away: boolean;
  active: boolean;
}

function peopleOf(drawn: Drawn[]): People {
  const read = readPeople({
    roles: ["writer", "checker", "copy-editor", "safety", "chief"].map((key) => ({
      key,
      name: key,
      permissions: key === "writer" ? ["piece.create"] : ["review.decide"],
    })),
    people: drawn.map(({ key, roles, standIn, away, active }) => ({
      key,
      name: key,
      active,
      roles,
      ...(standIn && { standIn }),
      ...(away && { away: [{ from: "2026-11-20", until: "2026-12-30" }] }),
    })),
  });
  if ("problems" in read) throw new Error(JSON.stringify(read.problems));
  return read.people;
}

interface Acted {
  who: string;
  does: string;
  pick: number;
  verdict: Verdict;
  note: string;
}
const act: fc.Arbitrary<Acted> = fc.record({
  who: fc.constantFrom(...KEYS),
  does: fc.constantFrom("step", "decide", "decide", "tick"),
  pick: fc.nat(7),
  verdict: fc.constantFrom<Verdict>("approve", "approve", "approve", "return", "decline", "abstain"),
  note: fc.constantFrom("", "Because.", "Because."),
});

test("pieces travel at random and nothing that always holds is broken", () => {
  const seen = new Map<string, number>();
  const count = (what: string) => seen.set(what, (seen.get(what) ?? 0) + 1);
  fc.assert(
    fc.property(
      lines(KEYS),
      fc.array(staff, { minLength: 1, maxLength: 2 }),
      fc.array(act, { minLength: 8, maxLength: 24 }),
      (workflow, staffs, acts) => {
        let stage: Stage = { workflow, people: staffs[0] as People, calendar };
        let piece = begin(stage, "tobia", NOW);
        for (const [i, does] of acts.entries()) {
          // Half way, other people work here: some left, some are away.
          if (i === acts.length >> 1) stage = { ...stage, people: staffs.at(-1) as People };
          piece = later(stage, piece, NOW + i * HOUR).at(-1) ?? piece;
          const before = piece;
          piece = does.does === "tick" ? tick(piece) : play(stage, piece, does, count);
          holds(stage, before, piece);
          if (piece.state !== before.state) count(`came to a ${stateOf(workflow, piece.state).kind} state`);
          if (reviewOf(stage, piece)?.kind === "open") count("open");
        }
      },
    ),
    { numRuns: RUNS },
  );
  expect(seen.get("came to a live state") ?? 0).toBeGreaterThan(10);
  // The travels were not all of one kind: steps, verdicts and ends of every sort were reached, each often.
  for (const often of ["step", "approve", "return", "decline", "abstain", "open"])
    expect([often, (seen.get(often) ?? 0) > 100]).toEqual([often, true]);
});

/** Who acts: mostly somebody whose turn it is, else anybody, who may be refused. */
function actor(stage: Stage, piece: Rehearsal, { who, does, pick }: Acted): string {
  if (pick === 0) return who;
  if (does === "step") return pick % 2 ? who : piece.author;
  const asked = openSeats(stage, piece);
  return piece.round?.seats[asked[pick % asked.length] ?? -1]?.personId ?? who;
}

/** One person's act; refused ones leave the piece as it was. */
function play(stage: Stage, piece: Rehearsal, does: Acted, count: (what: string) => void): Rehearsal {
  const { note, verdict } = does;
  const who = actor(stage, piece, does);
  if (does.does === "decide") {
    const chosen = [...new Set(decisionsLead(stage, piece, who).flatMap((move) => choices(stage, piece, move)))];
    const ids = chosen.map((one) => one.id).slice(0, does.pick);
    const done = decideAs(stage, piece, who, verdict, { note, publishAt: null, chosen: ids });
    if (!done.ok) return piece;
    count(verdict);
    decided(stage, piece, done.value, who, verdict);
    return done.value;
  }
  const offered = offers(stage, piece, who);
  const move = offered[does.pick % offered.length];
  if (!move) return piece;
  const ids = choices(stage, piece, move).map((one) => one.id);
  const done = take(stage, piece, who, move.transition.key, { note, publishAt: null, chosen: [...new Set(ids)] });
  if (!done.ok) return piece;
  count("step");
  must(move.refusals.length === 0, "a refused step was taken");
  must(reached(stage, move.transition.to).includes(done.value.state), "a step led elsewhere than it says");
  return done.value;
}

/** The states a transition can bring a piece to: its own, or where the bypasses of switched-off ones lead from there. */
function reached({ workflow }: Stage, to: string): string[] {
  const on = stateOf(workflow, to).bypass;
  if (on === undefined) return [to];
  const next = workflow.transitions.find((one) => one.key === on);
  return next ? reached({ workflow } as Stage, next.to) : [to];
}

/** Of a decision: who gave it, and that the piece went only where that verdict leads. */
function decided(stage: Stage, before: Rehearsal, after: Rehearsal, who: string, verdict: Verdict): void {
  const review = stateOf(stage.workflow, before.state).review;
  const round = before.round;
  if (!review || !round) throw new Error("something was decided where nothing is reviewed");
  must(who !== before.author || review.authorMayDecide, "the author decided on their own piece");
  const outcomes = { approve: review.approve, abstain: review.approve, return: review.return, decline: review.decline };
  const moved = (after.passage.at(-1)?.step ?? "").includes(": ");
  if (!moved) {
    must(after.state === before.state, "the piece moved without saying so");
    const said = after.round?.decisions.at(-1);
    must(round.seats[Number(said?.seat)]?.personId === who, "somebody decided from another's seat");
    return;
  }
  // Nothing but a return returns, nothing but a decline declines.
  const transition = stage.workflow.transitions.find((one) => one.key === outcomes[verdict]);
  must(reached(stage, transition?.to ?? "").includes(after.state), `a ${verdict} led to ${after.state}`);
  if (verdict === "approve" || verdict === "abstain") must(couldPass(round, review, verdict), "passed too early");
}

/** Whether a round had what its rule asks, counted here anew: one seat spoke just now, whichever it was. */
function couldPass(
  round: NonNullable<Rehearsal["round"]>,
  { rule, count = 1 }: { rule: string; count?: number | undefined },
  verdict: Verdict,
): boolean {
  const says = new Map(round.decisions.map((one) => [Number(one.seat), one.verdict]));
  const seats = [...round.seats.entries()].filter(([, seat]) => !seat.voidReason).map(([place]) => place);
  const approvals = seats.filter((place) => says.get(place) === "approve").length + (verdict === "approve" ? 1 : 0);
  const spoke = seats.filter((place) => says.has(place)).length;
  const enough = approvals >= (rule === "count" ? count : 1);
  return rule === "all" || rule === "in-order" ? enough && spoke >= seats.length - 1 : enough;
}

/** What always holds, after every act. */
function holds(stage: Stage, before: Rehearsal, piece: Rehearsal): void {
  const state = stateOf(stage.workflow, piece.state);
  const moved = piece.state !== before.state;
  must(
    (piece.round !== null) === (state.kind === "review"),
    "a round is open where, and only where, something is reviewed",
  );
  must(!moved || state.bypass === undefined, "a piece came to rest in a state that is switched off");
  const outcome = reviewOf(stage, piece);
  if (outcome) {
    must(outcome.kind === "open", "a round that ended is still there");
    const asked = openSeats(stage, piece).map((place) => piece.round?.seats[place]);
    const able = asked.some((seat) => seat && !isVacant(seat.flag));
    must(able || (outcome.kind === "open" && outcome.stuck !== null), "a round is stuck and does not say so");
    must(
      asked.every((seat) => seat && !seat.voidReason),
      "a seat out of the count is asked",
    );
    must(state.review?.rule !== "in-order" || asked.length <= 1, "two are asked at once, in order");
  }
  for (const seat of piece.round?.seats ?? [])
    must(
      seat.voidReason !== null || state.review?.authorMayDecide === true || seat.personId !== piece.author,
      "the author sits on their own piece",
    );
  must(piece.dueAt === null || !moved || piece.dueAt >= piece.now, "it was due before it came");
  must(new Set(piece.assigned).size === piece.assigned.length, "somebody has it twice");
  const last = piece.passage.at(-1);
  must(!last?.who || !last.told.includes(last.who), "somebody is told of what they did themselves");
  must(piece.passage[before.passage.length - 1] === before.passage.at(-1), "what happened is not as it happened");
}

/** A broken promise; cheaper than a matcher, of which there would be a million. */
function must(kept: boolean, broken: string): void {
  if (!kept) throw new Error(broken);
}
