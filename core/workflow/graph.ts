import type { State, Workflow } from "./document.ts";

/**
 * The keys of a workflow as numbers of its states, looked up once for all that is asked of it:
 * looking up is what takes the time. `NOWHERE` stands for a key that is no state's.
 */
export interface Numbered {
  number: ReadonlyMap<string, number>;
  mainLine: readonly number[];
  /** For each transition, in the order of the document: where it begins. */
  from: readonly (readonly number[])[];
  /** For each transition: where it leads. */
  to: readonly number[];
}

export const NOWHERE = -1;

/** A workflow as a graph: its states by number, and for each the numbers of those that follow. */
export interface Graph {
  states: readonly State[];
  number: ReadonlyMap<string, number>;
  next: readonly (readonly number[])[];
}

/** Numbers the states of a workflow; of two with the same key the last one counts. */
export function numbered({ states, mainLine, transitions }: Workflow): Numbered {
  const number = new Map<string, number>();
  for (let i = 0; i < states.length; i++) number.set((states[i] as State).key, i);
  const of = (key: string) => number.get(key) ?? NOWHERE;
  return {
    number,
    mainLine: mainLine.map(of),
    from: transitions.map(({ from }) => (from.length === 1 ? [of(from[0] as string)] : from.map(of))),
    to: transitions.map((transition) => of(transition.to)),
  };
}

/**
 * The graph of every transition. All references must hold, and keys be unique.
 *
 * @param asTravelled a switched-off state is left by its bypass alone, as pieces do
 */
export function graphOf(workflow: Workflow, asTravelled: boolean, numbers = numbered(workflow)): Graph {
  const { states, transitions } = workflow;
  const next: number[][] = states.map(() => []);
  for (let t = 0; t < transitions.length; t++) {
    for (const i of numbers.from[t] as readonly number[]) {
      const { bypass } = states[i] as State;
      if (!asTravelled || bypass === undefined || bypass === transitions[t]?.key)
        next[i]?.push(numbers.to[t] as number);
    }
  }
  return { states, number: numbers.number, next };
}

/** Which states a walk from any of `starts` comes to, the starts included. */
export function reached({ next }: Pick<Graph, "next">, starts: readonly number[]): boolean[] {
  const seen = next.map(() => false);
  const waiting = [...starts];
  for (const start of starts) seen[start] = true;
  for (let at = waiting.pop(); at !== undefined; at = waiting.pop()) {
    for (const to of next[at] as readonly number[]) {
      if (seen[to]) continue;
      seen[to] = true;
      waiting.push(to);
    }
  }
  return seen;
}

/** The same graph with every transition turned round: what a walk in it comes to is what leads here. */
export function reversed({ next }: Graph): Pick<Graph, "next"> {
  const back: number[][] = next.map(() => []);
  for (const [from, followers] of next.entries()) for (const to of followers) back[to]?.push(from);
  return { next: back };
}

/**
 * A shortest way from a state to one that is a goal, breadth first.
 *
 * @param open which states the way may touch, its ends included
 * @returns the numbers of the states on the way, or null when there is none
 */
export function shortestPath(
  { states, next }: Graph,
  start: number,
  goal: (state: State) => boolean,
  open: (state: State) => boolean,
): number[] | null {
  const passable = (i: number) => open(states[i] as State);
  if (!passable(start)) return null;
  const cameFrom = new Map<number, number | null>([[start, null]]);
  const waiting = [start];
  for (let i = 0; i < waiting.length; i++) {
    const at = waiting[i] as number;
    if (goal(states[at] as State)) return wayTo(at, cameFrom);
    for (const to of next[at] as readonly number[]) {
      if (cameFrom.has(to) || !passable(to)) continue;
      cameFrom.set(to, at);
      waiting.push(to);
    }
  }
  return null;
}

function wayTo(end: number, cameFrom: ReadonlyMap<number, number | null>): number[] {
  const way: number[] = [];
  for (let at: number | null = end; at !== null; at = cameFrom.get(at) ?? null) way.push(at);
  return way.reverse();
}
