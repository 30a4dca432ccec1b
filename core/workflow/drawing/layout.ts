import type { State, Transition, Workflow } from "../document.ts";

/** Where things lie in a drawing, in units of which a stop on the line takes `PITCH` across. */
export const PITCH = 128;
const EDGE = 70;
const ARC = 34;
const LIFT = 20;
const BELOW = 76;
const SIDING = 50;
const GAP = 26;

/** How high above its row's rail an arc runs. */
export const arcHeight = (level: number) => LIFT + level * ARC;

/** A stop with its place. `order` is its place on the main line; null on a siding. */
export interface Stop {
  state: State;
  x: number;
  y: number;
  order: number | null;
}

/** The rail between two neighbours of the main line. */
export interface Rail {
  from: Stop;
  to: Stop;
  /** Where it goes on in the next row: the height between the rows at which it runs back; else null. */
  turnsAt: number | null;
  /** The steps that lead along it; none where the line is broken. */
  steps: Transition[];
}

/** A step that does not follow the line: an arc within its row, or a stub that names where it leads. */
export interface Branch {
  step: Transition;
  from: Stop;
  to: Stop;
  /** At which level above the row's rail the arc runs, or the stub ends. */
  level: number;
  /** Whether it leads to another row, or back to where it leaves. */
  stub: boolean;
}

/** A stop beside the line, with the step by which pieces come to it. */
export interface Siding {
  stop: Stop;
  from: Stop;
  step: Transition | null;
}

export interface Layout {
  width: number;
  height: number;
  stops: Stop[];
  rails: Rail[];
  branches: Branch[];
  sidings: Siding[];
}

/** What of a workflow its layout depends on: where the same, so is the layout, whatever the names. */
export const shapeOf = ({ mainLine, states, transitions }: Workflow): string =>
  JSON.stringify([mainLine, states.map((state) => state.key), transitions.map((step) => [step.from, step.to])]);

/** Below this nothing can be read; above the other it is comfortable. */
const LEAST = 0.62;
const COMFORTABLE = 0.8;

/**
 * The scale at which the whole line is seen in a place: in as few rows as stay comfortable to read,
 * not larger than drawn. A line too long for its place fits across, and is scrolled down.
 */
export function fitting(workflow: Workflow, place: { width: number; height: number }): number {
  const stops = Math.max(2, workflow.mainLine.length);
  const widths = Array.from({ length: stops - 1 }, (_, i) => 2 * EDGE + (stops - 1 - i) * PITCH);
  const readable = widths.map((width) => Math.min(1, place.width / width)).filter((scale) => scale >= LEAST);
  const across = readable.filter((scale) => layOut(workflow, place.width / scale).width * scale <= place.width + 1);
  const whole = across.filter((scale) => layOut(workflow, place.width / scale).height * scale <= place.height);
  return whole.find((scale) => scale >= COMFORTABLE) ?? whole.at(-1) ?? across[0] ?? LEAST;
}

/**
 * Lays a workflow out as a line: the main line straight, in as many rows as the width asks for;
 * steps off it as arcs above, each on the lowest level on which it meets no other; states beside it
 * on sidings below their row. Nothing is placed by hand, and the same workflow is always laid out
 * the same.
 *
 * @param width what there is across, in the units of the drawing
 */
export function layOut(workflow: Workflow, width: number): Layout {
  const states = new Map(workflow.states.map((state) => [state.key, state]));
  const perRow = Math.max(2, Math.floor((width - 2 * EDGE) / PITCH) + 1);
  const line = [...new Set(workflow.mainLine)];
  const rowOf = new Map(line.map((key, i) => [key, Math.floor(i / perRow)]));
  const rows = Math.max(1, Math.ceil(line.length / perRow));
  const branches = steppingAside(workflow, line, rowOf);
  const levels = levelsOf(branches, line, rowOf);
  const beside = sidingsOf(workflow, line);

  const stops = new Map<string, Stop>();
  const tops: number[] = [];
  let y = 0;
  for (let row = 0; row < rows; row++) {
    tops.push(y);
    const here = line.slice(row * perRow, (row + 1) * perRow);
    const high = Math.max(
      0,
      ...branches.filter((one) => rowOf.get(one.from) === row).map((one) => levels.get(one) as number),
    );
    y += GAP + (high > 0 ? arcHeight(high) : LIFT);
    for (const [i, key] of here.entries()) {
      const order = row * perRow + i;
      stops.set(key, { state: states.get(key) as State, x: EDGE + i * PITCH, y, order });
    }
    y += BELOW;
    const hanging = beside.filter((one) => (rowOf.get(one.from) ?? 0) === row);
    const depth = placeSidings(hanging, stops, states, y);
    y += depth;
  }
  const at = (key: string) => stops.get(key) as Stop;
  const across = Math.min(line.length, perRow);
  const right = Math.max(0, ...[...stops.values()].filter((stop) => stop.order === null).map((stop) => stop.x + 110));
  return {
    width: Math.max(EDGE * 2 + (across - 1) * PITCH, right),
    height: y + 8,
    stops: [...stops.values()],
    rails: line.slice(1).map((key, i) => {
      const from = at(line[i] as string);
      const to = at(key);
      const steps = workflow.transitions.filter((step) => step.from.includes(from.state.key) && step.to === key);
      return { from, to, turnsAt: from.y === to.y ? null : (tops[rowOf.get(key) as number] as number), steps };
    }),
    branches: branches.map((one) => ({
      step: one.step,
      from: at(one.from),
      to: at(one.to),
      level: levels.get(one) as number,
      stub: isStub(one, rowOf),
    })),
    sidings: beside.map(({ key, from, step }) => ({ stop: at(key), from: at(from), step })),
  };
}

interface Aside {
  step: Transition;
  from: string;
  to: string;
}

/** Every step between stops of the line that are not neighbours in its direction, the shortest first. */
function steppingAside(workflow: Workflow, line: readonly string[], rowOf: ReadonlyMap<string, number>): Aside[] {
  const order = new Map(line.map((key, i) => [key, i]));
  const span = ({ from, to }: Aside) => Math.abs((order.get(from) as number) - (order.get(to) as number));
  return workflow.transitions
    .flatMap((step) => step.from.map((from) => ({ step, from, to: step.to })))
    .filter(({ from, to }) => rowOf.has(from) && rowOf.has(to) && order.get(to) !== (order.get(from) as number) + 1)
    .sort((a, b) => span(a) - span(b));
}

const isStub = ({ from, to }: Aside, rowOf: ReadonlyMap<string, number>) =>
  from === to || rowOf.get(from) !== rowOf.get(to);

/** Levels for arcs and stubs, each the lowest on which it meets no other; a stub takes the room of its name. */
function levelsOf(
  branches: readonly Aside[],
  line: readonly string[],
  rowOf: ReadonlyMap<string, number>,
): Map<Aside, number> {
  const order = new Map(line.map((key, i) => [key, i]));
  const taken: [number, number][][] = [];
  const levels = new Map<Aside, number>();
  for (const branch of branches) {
    const [a, b] = [order.get(branch.from) as number, order.get(branch.to) as number];
    const [low, high] = isStub(branch, rowOf) ? [a - 0.45, a + 0.45] : a < b ? [a, b] : [b, a];
    const free = taken.findIndex((spans) => !spans.some(([from, to]) => from < high && low < to));
    const level = free < 0 ? taken.length : free;
    taken[level] = [...(taken[level] ?? []), [low, high]];
    levels.set(branch, level + 1);
  }
  return levels;
}

interface Beside {
  key: string;
  from: string;
  step: Transition | null;
}

/** States that are not on the line, each hung below the first stop from which pieces come to it. */
function sidingsOf(workflow: Workflow, line: readonly string[]): Beside[] {
  const onLine = new Set(line);
  const into = new Map<string, Transition[]>();
  for (const step of workflow.transitions) into.set(step.to, [...(into.get(step.to) ?? []), step]);
  return workflow.states
    .filter((state) => !onLine.has(state.key))
    .map(({ key }) => {
      const way = firstFromLine(key, into, onLine);
      return { key, from: way ?? (line[0] as string), step: into.get(key)?.[0] ?? null };
    });
}

function firstFromLine(key: string, into: Map<string, Transition[]>, onLine: ReadonlySet<string>): string | null {
  const seen = new Set([key]);
  const waiting = [key];
  for (const at of waiting) {
    for (const from of (into.get(at) ?? []).flatMap((step) => step.from)) {
      if (onLine.has(from)) return from;
      if (!seen.has(from)) waiting.push(from);
      seen.add(from);
    }
  }
  return null;
}

/** Hangs the sidings of one row below it, one under the other. @returns how deep they reach */
function placeSidings(
  hanging: readonly Beside[],
  stops: Map<string, Stop>,
  states: ReadonlyMap<string, State>,
  top: number,
): number {
  for (const [i, { key, from }] of hanging.entries()) {
    const above = stops.get(from) as Stop;
    stops.set(key, {
      state: states.get(key) as State,
      x: above.x + PITCH * 0.75,
      y: top + 22 + i * SIDING,
      order: null,
    });
  }
  return hanging.length > 0 ? hanging.length * SIDING + 12 : 0;
}
