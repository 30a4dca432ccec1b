import type { State, Workflow } from "./document.ts";

/** A workflow as a graph: its states by number, and for each the numbers of those that follow. */
export interface Graph {
  states: readonly State[];
  number: ReadonlyMap<string, number>;
  next: readonly (readonly number[])[];
}

/**
 * The graph of every transition. All references must hold, and keys be unique.
 *
 * @param asTravelled a switched-off state is left by its bypass alone, as pieces do
 */
export function graphOf(workflow: Workflow, asTravelled: boolean): Graph {
  const { states } = workflow;
  const number = new Map(states.map((state, i) => [state.key, i]));
  const next: number[][] = states.map(() => []);
  for (const { key, from, to } of workflow.transitions) {
    for (const source of from) {
      const i = number.get(source) as number;
      const { bypass } = states[i] as State;
      if (!asTravelled || bypass === undefined || bypass === key) next[i]?.push(number.get(to) as number);
    }
  }
  return { states, number, next };
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
