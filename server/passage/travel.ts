import { eq } from "drizzle-orm";
import { pieceMoved } from "#core/events/pieces.ts";
import { roundOpened, roundStuck } from "#core/events/review.ts";
import { type Arrival, arrive, refuseStuck } from "#core/passage/arrive.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { asRefusal } from "#core/release/preflight.ts";
import { isVacant } from "#core/review/seating.ts";
import { localDate } from "#core/time/local.ts";
import { type State, stateOf, type Transition } from "#core/workflow/document.ts";
import { restingPlace } from "#core/workflow/moves.ts";
import type { Person } from "../access/holders.ts";
import { whoMay } from "../access/who.ts";
import { piece, type RoundEnd, type Urgency } from "../db/schema/index.ts";
import type { PieceFacts } from "../piece/facts.ts";
import { letGo } from "../piece/holder.ts";
import { foresee, rebindPlan } from "../release/foresee.ts";
import { lastLook } from "../release/last-look.ts";
import { publish, withdraw } from "../release/publish.ts";
import { differsSince } from "../review/differs.ts";
import { closeRound, inReview, loadOpenRound, ownersOf } from "../review/rounds.ts";
import type { Places } from "../sections/places.ts";
import { asCandidates, loadTeam, NOTHING_WAITS, type Team } from "../team/queries.ts";
import type { Change } from "../write.ts";
import { type LaidRound, layDown } from "./lay-down.ts";

/** How a piece travels: by which transition, with what was said. */
export interface Travel {
  transition: Transition;
  note: string;
  /** A due date somebody chose; the state's own time allowed otherwise. Epoch milliseconds. */
  dueAt?: number | null;
  /** Whom the sender picked for the next review; null lets the least busy sit. */
  chosen: readonly string[] | null;
  urgency?: Urgency;
  publishAt?: number | null;
  /** On whose behalf, when a stand-in's decision moves it. */
  forId?: string | null;
  /** How the review ended that it leaves, where that moves it. */
  outcome?: Exclude<RoundEnd, "withdrawn">;
  /** Who answers for its reaching readers by this; null where nobody does, and it does not. */
  cause: Person | null;
  /** Whether somebody sends it by hand, who is refused what could never be passed. */
  sent: boolean;
  /** What readers find in its place, where the step takes it away from them or somebody says so. */
  withdraws?: { notice: string } | null;
  /** What it corrects, for readers. */
  correction?: string | null;
}

/**
 * Takes a piece along a transition and lays down everything its arrival brings. Whether the step may
 * be taken was decided before; where it reaches readers, the last look is taken here, whoever comes by.
 */
export async function travel(
  change: Change,
  facts: PieceFacts,
  places: Places,
  way: Travel,
): Promise<Result<{ state: State }>> {
  const to = restingPlace(facts.workflow, way.transition.to).state;
  const team = await teamFor(change, places, [{ to, step: way.transition }]);
  const publishAt = way.publishAt ?? facts.piece.publishAt;
  const { chosen, dueAt = null } = way;
  const arrived = arriveBy(facts, way.transition, { team, places, now: change.now }, { publishAt, chosen, dueAt });
  if (!arrived.ok) return arrived;
  const stuck = way.sent && refuseStuck(arrived.value);
  if (stuck) {
    const able = await whoMay(change.tx, "access.edit", facts.target, change.now);
    return refuse({ ...stuck, who: able.map((one) => one.name) });
  }
  if (to.kind === "live") {
    const held = asRefusal(
      await lastLook(change, facts, {
        causedBy: way.cause ? [way.cause] : [],
        step: way.transition,
        outside: way.note,
      }),
    );
    if (held) return refuse(held);
  }
  const down = {
    step: way.transition.name,
    note: way.note,
    urgency: way.urgency ?? facts.piece.urgency,
    publishAt,
    dueChosen: typeof way.dueAt === "number",
    transition: way.transition,
    ...(way.outcome && { outcome: way.outcome }),
    forId: way.forId ?? null,
    team,
  };
  await land([{ change, facts, arrival: arrived.value, down }]);
  if (to.kind === "live") await publish([{ change, facts, correction: way.correction ?? null }]);
  else if (way.withdraws) await withdraw(change, facts, { note: way.note, notice: way.withdraws.notice });
  return accept({ state: to });
}

/** How a piece comes down, beside what its arrival brings. */
export interface Descent {
  step: string;
  note: string;
  urgency: Urgency;
  publishAt: number | null;
  dueChosen: boolean;
  /** The step taken, where it is one of the workflow. */
  transition: Pick<Transition, "key" | "name"> | null;
  outcome?: Exclude<RoundEnd, "withdrawn">;
  forId: string | null;
  team: Team;
}

/** What the arrival of a piece by a step brings, as the team stands. */
export const arriveBy = (
  { workflow, piece: row, target }: PieceFacts,
  { to, notify }: Transition,
  { team, places, now }: { team: Team; places: Places; now: number },
  { publishAt, ...said }: { publishAt: number | null; chosen: readonly string[] | null; dueAt: number | null },
): Result<Arrival> => {
  const people = asCandidates(team, target, now);
  const at = { authorId: row.authorId, publishAt, people, calendar: places.calendar, now };
  return arrive(workflow, at, { to, notify, ...said });
};

/** A piece that comes down: what its arrival brings, and the part of the write that tells of it. */
export interface Coming {
  change: Change;
  facts: PieceFacts;
  arrival: Arrival;
  down: Descent;
}

/**
 * Takes pieces out of the states they are in, their open reviews and their writers' hold with them,
 * and lays them down where they arrive: on record, and whoever it concerns is told.
 */
export async function land(comings: readonly Coming[]): Promise<void> {
  const [first] = comings;
  if (!first) return;
  const { change } = first;
  const ids = comings.map(({ facts }) => facts.piece.id);
  await letGo(change, ids);
  const reviewed = await inReview(change, ids);
  for (const { change: apart, facts, down } of comings.filter((one) => reviewed.has(one.facts.piece.id))) {
    const left = await loadOpenRound(change.tx, facts.piece.id);
    if (left) await closeRound(apart, facts, left, down.outcome ?? "withdrawn");
  }
  const laid = await layDown(
    change,
    comings.map(({ facts: { piece: row }, arrival, down }) => ({
      row,
      arrival,
      revisionId: row.workflowRevisionId,
      private: false,
      ...down,
    })),
  );
  for (const coming of comings) await tellOf(coming, laid.get(coming.facts.piece.id));
}

/** Says on record what became of one piece that came down, and looks ahead for it. */
async function tellOf({ change, facts, arrival, down }: Coming, laid: LaidRound | undefined): Promise<void> {
  const { row, from } = { row: facts.piece, from: stateOf(facts.workflow, facts.piece.stateKey) };
  const { state } = arrival;
  if (down.transition) {
    const author = down.outcome !== undefined || (change.actor !== null && change.actor.id !== row.authorId);
    change.happened(
      pieceMoved,
      {
        transition: down.transition.key,
        step: down.transition.name,
        state: state.key,
        name: state.name,
        from: from.name,
        outcome: down.outcome,
        passedBy: arrival.passedBy.map((one) => one.key),
        note: down.note,
        version: facts.version.number,
        hash: facts.version.hash,
        dueAt: arrival.dueAt,
        publishAt: down.publishAt,
        urgency: down.urgency,
      },
      {
        pieceId: row.id,
        subjectId: facts.version.id,
        forId: down.forId,
        before: { state: from.key, name: from.name, publishAt: row.publishAt },
        tell: {
          author: author ? [row.authorId] : [],
          assigned: arrival.assigned.map((one) => one.personId),
          arrived: arrival.told.filter((id) => !author || id !== row.authorId),
        },
      },
    );
  }
  const arrived = { ...facts, state, piece: { ...row, stateKey: state.key, stateKind: state.kind } };
  if (laid) await announceRound(change, arrived, laid, down.team);
  if (state.kind === "ready") await rebindPlan(change, arrived);
  if (state.kind !== "live") await foresee(change, arrived);
}

/** Says on record that a review opened, to those whose turn it is; and to its owners where it could never pass. */
async function announceRound(change: Change, facts: PieceFacts, { row, seats }: LaidRound, team: Team): Promise<void> {
  const name = (id: string | null) => (id ? team.people.get(id)?.name : undefined);
  const called = seats.filter((one) => one.status === "open" && !isVacant(one.flag));
  const about = { pieceId: facts.piece.id, subjectId: row.id };
  change.happened(
    roundOpened,
    {
      state: row.stateKey,
      name: facts.state.name,
      rule: row.rule,
      version: facts.version.number,
      hash: facts.version.hash,
      dueAt: row.dueAt,
      note: row.note,
      differs: await differsSince(change.tx, facts, row.stateKey),
      seats: seats.map((one) => ({
        person: name(one.personId),
        for: name(one.forPersonId),
        void: one.voidReason ?? undefined,
      })),
    },
    {
      ...about,
      tell: {
        called: called.map((one) => ({ to: one.personId, params: { for: name(one.forPersonId) ?? null } })),
      },
    },
  );
  if (!row.stuck) return;
  const { stuck, rule, count } = row;
  const owners = await ownersOf(change, facts, row.senderId);
  change.happened(roundStuck, { state: facts.state.name, stuck, rule, count }, { ...about, tell: { owners } });
}

/** For an arrival that concerns nobody but the author. */
const NOBODY: Team = { people: new Map(), away: new Set(), standIns: new Map(), ...NOTHING_WAITS };

/** The team, where an arrival or the step that leads to it asks for people. */
export async function teamFor(
  change: Change,
  places: Places,
  arrivals: readonly { to: State; step: Transition }[],
): Promise<Team> {
  const asks = arrivals.some(
    ({ to, step }) =>
      to.review || [...to.arrival.assign, ...to.arrival.notify, ...step.notify].some((one) => one !== "author"),
  );
  return asks ? loadTeam(change.tx, localDate(change.now, places.calendar.timeZone)) : NOBODY;
}

/** Notes that a piece was moved past what its rules ask: the flag on the piece, beside its entry on the ledger. */
export const flagOverridden = ({ tx, now }: Change, pieceId: string) =>
  tx.update(piece).set({ overriddenAt: now }).where(eq(piece.id, pieceId));
