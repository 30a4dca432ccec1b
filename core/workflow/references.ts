import { OUTCOMES, type Principal, type Problem, readShape, type Workflow } from "./document.ts";
import type { People } from "./people.ts";

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
export function references(workflow: Workflow, known: Known): Fault[] {
  return [
    ...duplicateKeys(workflow),
    ...unknownReferences(workflow),
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
      const at = list === "states" ? { state: key } : { transition: key };
      if (seen.has(key))
        yield {
          code: "duplicate-key",
          at,
          path: `${list}[${i}].key`,
          message: `the key "${key}" stands here a second time`,
        };
      seen.add(key);
    }
  }
}

function* unknownReferences(workflow: Workflow): Generator<Fault> {
  const states = new Set(workflow.states.map((state) => state.key));
  const transitions = new Map(workflow.transitions.map((transition) => [transition.key, transition]));
  const unknown = (path: string, message: string, at?: Place): Fault => ({
    code: "unknown-reference",
    path,
    message,
    ...(at && { at }),
  });
  const state = (path: string, key: string, at?: Place) =>
    states.has(key) ? [] : [unknown(path, `there is no state "${key}"`, at)];
  const transition = (path: string, key: string, from: string) => {
    const found = transitions.get(key);
    if (found?.from.includes(from)) return [];
    const message = found
      ? `the transition "${key}" does not leave the state "${from}"`
      : `there is no transition "${key}"`;
    return [unknown(path, message, { state: from })];
  };
  yield* state("initial", workflow.initial);
  for (const [i, key] of workflow.mainLine.entries()) yield* state(`mainLine[${i}]`, key);
  for (const [i, { key, from, to }] of workflow.transitions.entries()) {
    for (const [j, source] of from.entries()) yield* state(`transitions[${i}].from[${j}]`, source, { transition: key });
    yield* state(`transitions[${i}].to`, to, { transition: key });
  }
  for (const [i, { key, bypass, review }] of workflow.states.entries()) {
    if (bypass) yield* transition(`states[${i}].bypass`, bypass, key);
    for (const outcome of OUTCOMES) {
      const named = review?.[outcome];
      if (named) yield* transition(`states[${i}].review.${outcome}`, named, key);
    }
  }
}

function* unknownPrincipals(workflow: Workflow, known: Known): Generator<Fault> {
  for (const { path, principal, at } of principalsNamed(workflow)) {
    const [sort, name] = principal.split(":");
    const there = sort === "role" ? known.roles : sort === "person" ? known.people : null;
    if (there && name && !there.has(name))
      yield { code: "unknown-principal", at, path, message: `there is no ${sort} "${name}" here` };
  }
}

/** Every principal a document names, with its path and its place. */
export function* principalsNamed(workflow: Workflow): Generator<{ path: string; principal: Principal; at: Place }> {
  const list = (path: string, principals: readonly Principal[], at: Place) =>
    principals.map((principal, i) => ({ path: `${path}[${i}]`, principal, at }));
  for (const [i, { key, editors, viewers, arrival, review }] of workflow.states.entries()) {
    const path = `states[${i}]`;
    const at = { state: key };
    yield* list(`${path}.editors`, editors, at);
    yield* list(`${path}.viewers`, viewers, at);
    yield* list(`${path}.arrival.assign`, arrival.assign, at);
    yield* list(`${path}.arrival.notify`, arrival.notify, at);
    const seats = (review?.seats ?? []).map((seat) =>
      "person" in seat ? `person:${seat.person}` : `role:${seat.role}`,
    );
    yield* list(`${path}.review.seats`, seats, at);
    const overdue = review?.overdue?.to;
    if (overdue) yield { path: `${path}.review.overdue.to`, principal: overdue, at };
  }
  for (const [i, { key, by, notify }] of workflow.transitions.entries()) {
    yield* list(`transitions[${i}].by`, by, { transition: key });
    yield* list(`transitions[${i}].notify`, notify, { transition: key });
  }
}

function* emptyPeriod({ effective }: Workflow): Generator<Fault> {
  const { from, until } = effective ?? {};
  if (from && until && until < from)
    yield { code: "empty-period", path: "effective.until", message: "the period ends before it begins" };
}
