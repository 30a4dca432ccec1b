import { can } from "#core/access/decide.ts";
import type { Permission } from "#core/access/permissions.ts";
import { dueIn } from "#core/passage/arrive.ts";
import type { Refusal } from "#core/refusal.ts";
import { foresee, seatToDecideFrom } from "#core/review/deciding.ts";
import type { Verdict } from "#core/review/round.ts";
import { candidates } from "#core/review/seating.ts";
import { localDate } from "#core/time/local.ts";
import type { Leg } from "#core/time/plan.ts";
import type { State } from "#core/workflow/document.ts";
import { legsFrom } from "#core/workflow/legs.ts";
import { type Move, moves } from "#core/workflow/moves.ts";
import type { Queryable } from "../db/client.ts";
import { closedSteps, endsBeforeReaders, recallOf } from "../passage/commands.ts";
import { type PieceFacts, standingOf } from "../piece/facts.ts";
import type { Channel } from "../release/channels.ts";
import { mayLetOut, whyNotPlan, whyNotWithdraw } from "../release/commands.ts";
import type { OpenRound } from "../review/rounds.ts";
import { tableOf } from "../review/table.ts";
import { asCandidates, sayPrincipals, type Team } from "../team/queries.ts";
import type { Viewer } from "../viewer.ts";

/** Somebody a piece could be given to, with what waits on them as far as the viewer may see. */
export interface Choice {
  id: string;
  name: string;
  load: number;
  away: boolean;
  /** When the first of what waits on them is due, epoch milliseconds. */
  due: number | null;
  /** The local date from which they are away soon, and who stands in then. */
  awayFrom: string | null;
  standIn: string | null;
}

/** The people a sender chooses among, and how many are asked. */
export interface Choosing {
  number: number;
  people: Choice[];
  /** Where nobody can be chosen: whom the review asks for, and who could give that role to somebody. */
  lacking: { asks: string[]; who: string[] } | null;
}

/** A step as the piece page offers it: open, or closed with its reason. */
export interface Step {
  key: string;
  name: string;
  to: string;
  toKind: string;
  refusal: Refusal | null;
  asks: string[];
  proposedDue: number | null;
  /** Where it leads and the stops behind, to see when readers would have it; empty where nothing is behind. */
  ahead: Leg[];
  choose: Choosing | null;
  /** Whether it takes the piece away from readers, or asks what they see from then on. */
  readers: "withdraws" | "ask" | null;
}

/** What somebody asked to decide may say, in the team's words. */
export interface Said {
  verdict: Verdict;
  name: string;
  refusal: Refusal | null;
  /** Whom they pick where this leads into a review whose seats are picked, and the due date proposed for it. */
  choose: Choosing | null;
  proposedDue: number | null;
}

/**
 * Everything a viewer may do with a piece now, and why not what is closed: asked of those who decide it
 * for the commands.
 *
 * @param team with the load the viewer may see
 */
export async function offersOf(
  db: Queryable,
  facts: PieceFacts,
  viewer: Viewer,
  { team, round, site }: { team: Team; round: OpenRound | null; site: Channel },
) {
  const { now } = viewer;
  const may = (permission: Permission) => can(viewer, permission, facts.target, now).allowed;
  const [table, recall, planClosed, withdrawClosed] = await Promise.all([
    tableOf(db, facts, round, [viewer, ...team.people.values()], now),
    recallOf(db, facts, viewer, now),
    facts.state.kind === "ready" ? whyNotPlan(db, facts, viewer, now) : null,
    facts.piece.liveVersionId === null ? null : whyNotWithdraw(db, { facts, actor: viewer }, now),
  ]);
  const people = asCandidates(team, facts.target, now);
  const today = localDate(now, viewer.calendar.timeZone);
  const soon = localDate(now + SOON, viewer.calendar.timeZone);
  const choosing = (move: Pick<Move, "choose" | "to">): Choosing | null => {
    if (move.choose.length === 0) return null;
    const able = move.choose.flatMap((rule) =>
      candidates(rule, people, facts.piece.authorId, move.to.review?.authorMayDecide ?? false),
    );
    return {
      number: move.choose.reduce((sum, rule) => sum + (rule.number ?? 1), 0),
      people: able.map(choiceOf),
      lacking: able.length > 0 ? null : { asks: asked(move.choose), who: holding("access.edit") },
    };
  };
  const asked = (rules: Move["choose"]) =>
    sayPrincipals(
      team,
      rules.map(({ role }) => `role:${role}`),
      facts.target,
    );
  const holding = (permission: Permission) =>
    [...team.people.values()]
      .filter((one) => can(one, permission, facts.target, now).allowed)
      .map((one) => one.name)
      .slice(0, NAMED);
  const said = (refusal: Refusal | undefined) =>
    refusal ? { ...refusal, ...(refusal.who && { who: sayPrincipals(team, refusal.who, facts.target) }) } : null;
  const dueAt = (state: State) => dueIn(state, { calendar: viewer.calendar, now, publishAt: facts.piece.publishAt });
  const standing = standingOf(facts, viewer, now);
  const seat = facts.state.review ? seatToDecideFrom(table, viewer.id) : null;
  const releasing = holding("piece.release");
  const steps = moves(facts.workflow, standing).map((move): Step => {
    const [refusal] = move.refusals;
    const closed = said(refusal);
    return {
      key: move.transition.key,
      name: move.transition.name,
      to: move.to.name,
      toKind: move.to.kind,
      refusal: closed?.code === "may-not-release" ? { ...closed, who: releasing } : closed,
      asks: move.asks,
      proposedDue: dueAt(move.to),
      ahead: legsFrom(facts.workflow, move.to),
      choose: choosing(move),
      readers:
        facts.piece.liveVersionId === null
          ? null
          : move.transition.withdraws
            ? "withdraws"
            : endsBeforeReaders(facts, move.to)
              ? "ask"
              : null,
    };
  });
  const mine = seat?.ok ? round?.seats.find((one) => one.id === seat.value.id) : undefined;
  return {
    steps,
    decision: mine ? { decided: mine.status === "decided", for: mine.forName, verdicts: verdicts() } : null,
    /** Why *Decide* is closed in a review, and who could; null elsewhere, or where it is open. */
    decideClosed: seat && !seat.ok ? seat.refusal : null,
    schedulable: facts.state.kind === "ready" && planClosed === null,
    planClosed,
    /** Whether the viewer may let it out: their plan then needs nobody else. */
    letsOut: facts.state.kind === "ready" && mayLetOut(facts, viewer, site, now),
    recall: recall.ok
      ? { to: recall.value.to.name, from: recall.value.from.name, reasoned: recall.value.reasoned }
      : null,
    withdrawable: facts.piece.liveVersionId !== null && withdrawClosed === null,
    overrides: may("piece.override")
      ? closedSteps(facts, viewer, now).map((one) => ({
          key: one.transition.key,
          name: one.transition.name,
          to: one.to.name,
          past: one.past,
          choose: choosing(one),
        }))
      : [],
    /** The viewer's own seat, to be handed on, and to whom. */
    hands:
      mine && mine.status !== "decided"
        ? { seatId: mine.id, people: reviewers().filter((one) => !isSeated(one.id)) }
        : null,
    routing: may("piece.route")
      ? {
          reviewers: reviewers(),
          readers: [...team.people.values()]
            .filter((one) => can(one, "piece.read", facts.target, now).allowed)
            .map(({ id, name }) => choiceOf({ id, name, away: team.away.has(id), load: team.load(id, facts.piece.id) }))
            .sort(byLoad),
        }
      : null,
    deletable: may("piece.delete"),
  };

  function choiceOf({ id, name, away, load }: Pick<Choice, "id" | "name" | "away" | "load">): Choice {
    // What is the house's own business a guest who picks somebody is not told.
    if (viewer.guest) return { id, name, away, load, due: null, awayFrom: null, standIn: null };
    const leaves = viewer.roster.absences
      .filter(({ personId, from }) => personId === id && from > today && from <= soon)
      .map(({ from }) => from)
      .sort()[0];
    const standIn = team.people.get(team.standIns.get(id) ?? "")?.name ?? null;
    return { id, name, away, load, due: team.firstDue.get(id) ?? null, awayFrom: leaves ?? null, standIn };
  }

  function isSeated(id: string): boolean {
    return round?.seats.some((one) => one.personId === id && one.status !== "void") ?? false;
  }

  function reviewers(): Choice[] {
    return people
      .filter((one) => one.active && one.decides && one.id !== facts.piece.authorId)
      .map(choiceOf)
      .sort(byLoad);
  }

  function verdicts(): Said[] {
    const { review } = facts.state;
    const word = (key: string | undefined) => facts.workflow.transitions.find((step) => step.key === key)?.name;
    return foresee(table, standing, viewer.id).map(({ verdict, follows }): Said => {
      const move = follows.ok ? follows.value.move : null;
      const named = verdict === "abstain" ? undefined : word(review?.[verdict]);
      return {
        verdict,
        name: named ?? WORDS[verdict],
        refusal: follows.ok
          ? null
          : follows.refusal.code === "may-not-release"
            ? { ...follows.refusal, who: releasing }
            : follows.refusal,
        choose: move && choosing(move),
        proposedDue: move ? dueAt(move.to) : null,
      };
    });
  }
}

/** Days away that begin within so long are told of who is chosen among, in milliseconds. */
const SOON = 14 * 86_400_000;
/** So many who could are named. */
const NAMED = 5;

const WORDS: Record<Verdict, string> = { approve: "Approve", return: "Return", decline: "Decline", abstain: "Abstain" };

const byLoad = (a: Choice, b: Choice) =>
  Number(a.away) - Number(b.away) || a.load - b.load || a.name.localeCompare(b.name);
