import type { People } from "../people/document.ts";
import { meaningOf, type Principal } from "../people/principals.ts";
import type { Problem } from "../words/problems.ts";
import { OUTCOMES, readShape, type SeatRule, type State, type Transition, type Workflow } from "./document.ts";
import { NOWHERE, type Numbered, numbered } from "./graph.ts";

/** Where a finding lies; nothing where it is about the whole. */
export type Place = { state: string } | { transition: string };

/** A fault of the document itself: its code, its place on the line, and its path in the file. */
export interface Fault extends Problem {
  code: "unknown-reference" | "duplicate-key" | "unknown-principal" | "empty-period";
  at?: Place;
}

/** The keys of the roles and people there are. */
export interface Known {
  roles: ReadonlySet<string>;
  people: ReadonlySet<string>;
}

/** Who is known by a people document, active or not. */
export const knownIn = ({ roles, people }: People): Known => ({
  roles: new Set(roles.map((role) => role.key)),
  people: new Set(people.map((person) => person.key)),
});

/**
 * Reads a workflow document from parsed JSON: its shape first, then what it refers to.
 *
 * @returns the workflow with defaults filled in, or every problem found, each with its path
 */
export function readWorkflow(json: unknown, known: Known): { workflow: Workflow } | { problems: Problem[] } {
  const read = readShape(json);
  if ("problems" in read) return read;
  const problems = references(read.workflow, known).map(({ path, message }) => ({ path, message }));
  return problems.length > 0 ? { problems } : read;
}

/** Every fault of a document whose shape is right: names that stand for nothing, keys that stand twice, empty periods. */
export function references(workflow: Workflow, known: Known, numbers: Numbered = numbered(workflow)): Fault[] {
  const transitions = new Map<string, Transition>();
  for (const transition of workflow.transitions) transitions.set(transition.key, transition);
  const unique = numbers.number.size === workflow.states.length && transitions.size === workflow.transitions.length;
  return [
    ...(unique ? [] : duplicateKeys(workflow)),
    ...unknownReferences(workflow, numbers, transitions),
    ...unknownPrincipals(workflow, known),
    ...emptyPeriod(workflow),
  ];
}

/**
 * Whether a working copy may be kept with a fault: what it wrongly names can be chosen anew in the
 * studio, and the line can be drawn without it.
 */
export const isMendable = ({ code, path }: Fault) =>
  code === "unknown-principal" || code === "empty-period" || /\.review\.(approve|return|decline)$/.test(path);

function* duplicateKeys(workflow: Workflow): Generator<Fault> {
  for (const list of ["states", "transitions"] as const) {
    const seen = new Set<string>();
    for (const [i, { key }] of workflow[list].entries()) {
      if (seen.size === seen.add(key).size) {
        const at = list === "states" ? { state: key } : { transition: key };
        const message = `the key "${key}" stands here a second time`;
        yield { code: "duplicate-key", at, path: `${list}[${i}].key`, message };
      }
    }
  }
}

/** The parts of a state that name a transition. */
const NAMING = ["bypass", ...OUTCOMES] as const;

function* unknownReferences(
  workflow: Workflow,
  { number, mainLine, from: starts, to: ends }: Numbered,
  transitions: ReadonlyMap<string, Transition>,
): Generator<Fault> {
  const noState = (path: string, key: string, at?: Place): Fault => ({
    code: "unknown-reference",
    path,
    message: `there is no state "${key}"`,
    ...(at && { at }),
  });
  if (!number.has(workflow.initial)) yield noState("initial", workflow.initial);
  for (let i = 0; i < mainLine.length; i++)
    if (mainLine[i] === NOWHERE) yield noState(`mainLine[${i}]`, workflow.mainLine[i] as string);
  for (let i = 0; i < ends.length; i++) {
    const { key, from, to } = workflow.transitions[i] as Transition;
    const strange = (starts[i] as readonly number[]).indexOf(NOWHERE);
    if (strange >= 0) yield noState(`transitions[${i}].from[${strange}]`, from[strange] as string, { transition: key });
    if (ends[i] === NOWHERE) yield noState(`transitions[${i}].to`, to, { transition: key });
  }
  for (const [i, { key, bypass, review }] of workflow.states.entries()) {
    if (bypass === undefined && review === undefined) continue;
    for (const part of NAMING) {
      const named = part === "bypass" ? bypass : review?.[part];
      const found = named === undefined ? undefined : transitions.get(named);
      if (named === undefined || found?.from.includes(key)) continue;
      yield {
        code: "unknown-reference",
        path: `states[${i}].${part === "bypass" ? part : `review.${part}`}`,
        at: { state: key },
        message: found
          ? `the transition "${named}" does not leave the state "${key}"`
          : `there is no transition "${named}"`,
      };
    }
  }
}

/** Paths are put together only for what is unknown: a large document names people ten thousand times. */
function* unknownPrincipals(workflow: Workflow, known: Known): Generator<Fault> {
  const looked = new Map<Principal, boolean>();
  const isKnown = (principal: Principal): boolean => {
    const before = looked.get(principal);
    if (before !== undefined) return before;
    const { sort, key } = meaningOf(principal);
    const found = key === null || (sort === "person" ? known.people : known.roles).has(key);
    looked.set(principal, found);
    return found;
  };
  const unknownIn = (list: readonly Principal[], path: string, at: Place): Fault[] =>
    list.flatMap((principal, i) => {
      if (isKnown(principal)) return [];
      const { sort, key } = meaningOf(principal);
      const message = `there is no ${sort === "person" ? "person" : "role"} "${key}" here`;
      return { code: "unknown-principal", at, path: `${path}[${i}]`, message };
    });
  for (const [i, state] of workflow.states.entries()) {
    const { editors, viewers, arrival, review } = state;
    const plain = review === undefined && arrival.assign.length === 0 && arrival.notify.length === 0;
    if (plain && editors.every(isKnown) && viewers.every(isKnown)) continue;
    for (const [path, list] of namedAt(state))
      if (!list.every(isKnown)) yield* unknownIn(list, `states[${i}].${path}`, { state: state.key });
  }
  for (let i = 0; i < workflow.transitions.length; i++) {
    const { key, by, notify } = workflow.transitions[i] as Transition;
    if (!by.every(isKnown)) yield* unknownIn(by, `transitions[${i}].by`, { transition: key });
    if (!notify.every(isKnown)) yield* unknownIn(notify, `transitions[${i}].notify`, { transition: key });
  }
}

/** The lists of people and roles at a state, each with its path there. */
function namedAt({ editors, viewers, arrival, review }: State): [string, readonly Principal[]][] {
  return [
    ["editors", editors],
    ["viewers", viewers],
    ["arrival.assign", arrival.assign],
    ["arrival.notify", arrival.notify],
    ["review.seats", review?.seats.map(principalOf) ?? []],
    ["review.overdue.to", review?.overdue?.to ? [review.overdue.to] : []],
  ];
}

/** Whom a seat is for, as a principal. */
export const principalOf = (seat: SeatRule): Principal =>
  "person" in seat ? `person:${seat.person}` : `role:${seat.role}`;

function* emptyPeriod({ effective }: Workflow): Generator<Fault> {
  const { from, until } = effective ?? {};
  if (from && until && until < from)
    yield { code: "empty-period", path: "effective.until", message: "the period ends before it begins" };
}
