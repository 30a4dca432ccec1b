import type { Calendar } from "../../time/calendar.ts";
import { plan } from "../../time/plan.ts";
import { type StateKind, stateOf, type Workflow } from "../document.ts";
import { legAt, legsAfter } from "../legs.ts";
import { restingPlace } from "../moves.ts";

/** A piece's time in one state. Epoch milliseconds; `leftAt` is null where it is now. */
export interface Stay {
  stateKey: string;
  arrivedAt: number;
  leftAt: number | null;
}

/** One stop of a piece's line strip. What does not apply to it is left out: lists send hundreds of them. */
export interface Stop {
  key: string;
  name: string;
  kind: StateKind;
  /** `off` is a switched-off state, or one the piece passed by. */
  when: "past" | "now" | "ahead" | "off";
  /** Whether the stop lies beside the main line. */
  siding?: true;
  /** Past: milliseconds spent there, all stays together. Now: milliseconds since the arrival. */
  spent?: number;
  /** Ahead: when it must be reached, and when it will be. Now: when it is due. */
  dueAt?: number;
  expectedAt?: number;
  late?: true;
}

/**
 * A piece's whole way in one row: where it has been, where it is, when it should be where.
 *
 * @param stays oldest first; the open one is the present
 * @param publishAt the date wished for or planned, or null
 */
export function strip(
  workflow: Workflow,
  stays: readonly Stay[],
  dueAt: number | null,
  publishAt: number | null,
  calendar: Calendar,
  now: number,
): Stop[] {
  const present = stays.at(-1);
  if (!present) return [];
  const state = stateOf(workflow, present.stateKey);
  const place = workflow.mainLine.indexOf(state.key);
  const visited = new Set(stays.map((stay) => stay.stateKey));
  const reached = place >= 0 ? place : workflow.mainLine.findLastIndex((key) => visited.has(key));
  const ended = state.kind === "live" || state.kind === "closed";
  const legs = [legAt(state), ...(ended ? [] : legsAfter(workflow, reached))];
  const plans = new Map(
    plan(calendar, legs, { since: present.arrivedAt, leaves: Math.max(dueAt ?? now, now) }, publishAt).map((leg) => [
      leg.key,
      leg,
    ]),
  );

  const stop = (key: string, when: Stop["when"]): Stop => {
    const { name, kind } = stateOf(workflow, key);
    return { key, name, kind, when };
  };
  const here: Stop = {
    ...stop(state.key, "now"),
    spent: now - present.arrivedAt,
    ...(place < 0 && { siding: true }),
    ...(!ended && dueAt !== null && { dueAt, ...(dueAt < now && { late: true }) }),
  };
  const stops = workflow.mainLine.map((key, i): Stop => {
    if (i === place) return here;
    if (stateOf(workflow, key).bypass) return stop(key, "off");
    if (i <= reached) return visited.has(key) ? { ...stop(key, "past"), spent: spentIn(stays, key) } : stop(key, "off");
    const leg = plans.get(key);
    const due = leg?.reachBy ?? null;
    const expected = leg?.expected ?? null;
    return {
      ...stop(key, "ahead"),
      ...(due !== null && { dueAt: due }),
      ...(expected !== null && { expectedAt: expected }),
      ...(due !== null && expected !== null && expected > due && { late: true }),
    };
  });
  if (place < 0) stops.splice(reached + 1, 0, here);
  return stops;
}

/** The stops a workflow has before any piece travels it: its main line, switched-off ones marked. */
export function bareLine(workflow: Workflow): Stop[] {
  return workflow.mainLine.map((key) => {
    const state = stateOf(workflow, key);
    const when = restingPlace(workflow, key).state === state ? "ahead" : "off";
    return { key, name: state.name, kind: state.kind, when };
  });
}

function spentIn(stays: readonly Stay[], key: string): number {
  return stays
    .filter((stay) => stay.stateKey === key && stay.leftAt !== null)
    .reduce((sum, stay) => sum + ((stay.leftAt as number) - stay.arrivedAt), 0);
}
