import { transitionOf, type Workflow } from "../workflow/document.ts";
import { restingPlace } from "../workflow/moves.ts";
import { holds } from "./conditions.ts";
import type { Action, Rule, RuleEvent } from "./document.ts";

/** What an action of a rule makes happen, as far as it can be known beforehand. */
interface Yielded {
  event: RuleEvent;
  state?: string;
  field?: string;
  /** What the field is then. */
  value?: string | number;
  /** The workflow of the piece, where it is known. */
  workflow?: string | undefined;
}

/** What a rule's actions make happen. */
function yields({ when, then }: Rule, workflows: readonly Workflow[]): Yielded[] {
  const { workflow } = when;
  return then.flatMap((action: Action): Yielded[] => {
    if (action.do === "set") return [{ event: "piece.changed", field: action.field, value: action.to, workflow }];
    if (action.do === "comment") return [{ event: "comment.made", workflow }];
    if (action.do === "assign") return [{ event: "piece.assigned", workflow }];
    if (action.do !== "take") return [];
    const travelled = workflows.filter((one) => workflow === undefined || one.key === workflow);
    return travelled.flatMap((one) => {
      const transition = transitionOf(one, action.transition);
      return transition
        ? [{ event: "piece.arrived", state: restingPlace(one, transition.to).state.key, workflow: one.key }]
        : [];
    });
  });
}

/** Whether a rule hears something that another makes happen. */
const hears = ({ when, if: conditions }: Rule, { event, state, field, value, workflow }: Yielded): boolean =>
  when.event === event &&
  (when.state === undefined || when.state === state) &&
  (when.field === undefined || when.field === field) &&
  (when.workflow === undefined || workflow === undefined || when.workflow === workflow) &&
  conditions.every(
    (condition) => field === undefined || condition.field !== field || isRanged(condition) || holds(condition, value),
  );

const isRanged = ({ over, under }: Rule["if"][number]) => over !== undefined || under !== undefined;

/** Which rules each rule may set off, by their places. */
export function setsOff(rules: readonly Rule[], workflows: readonly Workflow[]): number[][] {
  const made = rules.map((rule) => yields(rule, workflows));
  return made.map((some) => rules.flatMap((other, i) => (some.some((yielded) => hears(other, yielded)) ? [i] : [])));
}

/**
 * The circles in which rules that are on may set each other off: of each set of rules that can all reach one
 * another a shortest circle, from its smallest key on; of several, the first in the order of their keys.
 */
export function circles(rules: readonly Rule[], workflows: readonly Workflow[]): string[][] {
  const on = rules.filter((rule) => rule.on).sort((a, b) => (a.key < b.key ? -1 : 1));
  const next = setsOff(on, workflows);
  return together(next).flatMap((members) => {
    const circle = shortestCircle(next, members);
    return circle ? [circle.map((i) => on[i]?.key as string)] : [];
  });
}

/** The sets of places that can all reach one another, each in order, by the first of each (Tarjan 1972). */
function together(next: readonly (readonly number[])[]): number[][] {
  const index: number[] = [];
  const low: number[] = [];
  const stack: number[] = [];
  const isOn = new Set<number>();
  const sets: number[][] = [];
  let count = 0;
  for (const [start] of next.entries()) {
    if (index[start] !== undefined) continue;
    // Walked without recursion: a chain of a thousand rules is no reason to run out of stack.
    const walk: { at: number; follows: number }[] = [{ at: start, follows: 0 }];
    while (walk.length > 0) {
      const step = walk.at(-1) as { at: number; follows: number };
      const { at } = step;
      if (step.follows === 0) {
        index[at] = low[at] = count++;
        stack.push(at);
        isOn.add(at);
      }
      const to = next[at]?.[step.follows++];
      if (to === undefined) {
        walk.pop();
        const above = walk.at(-1);
        if (above) low[above.at] = Math.min(low[above.at] as number, low[at] as number);
        if (low[at] !== index[at]) continue;
        const members = stack.splice(stack.lastIndexOf(at));
        for (const one of members) isOn.delete(one);
        sets.push(members.sort((a, b) => a - b));
      } else if (index[to] === undefined) walk.push({ at: to, follows: 0 });
      else if (isOn.has(to)) low[at] = Math.min(low[at] as number, index[to] as number);
    }
  }
  return sets.sort(([a = 0], [b = 0]) => a - b);
}

/** A shortest circle among places that can all reach one another; undefined where a single one does not reach itself. */
function shortestCircle(next: Links, members: readonly number[]): number[] | undefined {
  const alone = members.find((one) => next[one]?.includes(one));
  if (alone !== undefined) return [alone];
  const before = backwards(next, members);
  let best: number[] | undefined;
  for (const start of members) {
    const circle = circleFrom(next, before, start, best?.length ?? Number.POSITIVE_INFINITY);
    if (circle) best = circle;
    if (best?.length === 2) return best;
  }
  return best;
}

type Links = readonly (readonly number[])[];

/** Which of some places lead to each. */
function backwards(next: Links, members: readonly number[]): ReadonlyMap<number, number[]> {
  const before = new Map<number, number[]>(members.map((one) => [one, []]));
  for (const one of members) for (const to of next[one] ?? []) before.get(to)?.push(one);
  return before;
}

/** The first shortest circle from a place through greater ones, of at least two and fewer than `below`. */
function circleFrom(
  next: Links,
  before: ReadonlyMap<number, readonly number[]>,
  start: number,
  below: number,
): number[] | undefined {
  /** How many steps lead back from each. */
  const back = new Map<number, number>([[start, 0]]);
  const waiting = [start];
  for (const at of waiting) {
    const steps = back.get(at) as number;
    if (steps + 2 >= below) break;
    for (const from of before.get(at) ?? [])
      if (from > start && !back.has(from)) {
        back.set(from, steps + 1);
        waiting.push(from);
      }
  }
  const onward = (at: number, left: number) => Math.min(...(next[at] ?? []).filter((to) => back.get(to) === left));
  const left = Math.min(...(next[start] ?? []).map((to) => back.get(to) || Number.POSITIVE_INFINITY));
  if (!Number.isFinite(left)) return undefined;
  const circle = [start];
  // Places are in the order of the keys: the smallest that still leads back in time comes next.
  for (let to = left, at = start; to > 0; to--) {
    at = onward(at, to);
    circle.push(at);
  }
  return circle;
}
