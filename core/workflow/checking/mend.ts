import type { People } from "../../people/document.ts";
import { type State, stateOf, transitionOf, type Workflow } from "../document.ts";
import {
  addTransition,
  changeState,
  changeTransition,
  nameTo,
  removeState,
  removeTransition,
  switchState,
} from "../editing/edit.ts";
import type { Finding } from "./check.ts";
import { check } from "./check.ts";
import { holders, mostApprovals, staffOf } from "./staffing.ts";

/** A way to put a finding right in one step: what it would do, and the workflow after it. */
export interface Mend {
  label: string;
  workflow: Workflow;
}

/**
 * The obvious ways to mend a finding; none where a person must think. Each one given makes this
 * finding go away, and lets no error in that was not there.
 */
export function mends(workflow: Workflow, people: People, finding: Finding): Mend[] {
  const before = check(workflow, people);
  return (CANDIDATES[finding.code]?.(workflow, people, finding) ?? []).filter((mend) => {
    const after = check(mend.workflow, people);
    const known = new Set(before.map(identity));
    return (
      !after.some((one) => identity(one) === identity(finding)) &&
      after.every((one) => one.severity === "warning" || known.has(identity(one)))
    );
  });
}

/** What makes two findings the same one, in two forms of a workflow. */
export const identity = ({ code, at }: Finding) => `${code} ${JSON.stringify(at ?? null)}`;

type Candidates = (workflow: Workflow, people: People, finding: Finding) => Mend[];

const stateAt = (workflow: Workflow, { at }: Finding): State | undefined =>
  at && "state" in at ? stateOf(workflow, at.state) : undefined;

const CANDIDATES: Partial<Record<Finding["code"], Candidates>> = {
  unreachable: (workflow, _, finding) => {
    const state = stateAt(workflow, finding);
    return state ? [{ label: `Take ${state.name} out`, workflow: removeState(workflow, state.key) }] : [];
  },
  "dead-end": wayOut,
  "no-finish": wayOut,
  "broken-main-line": (workflow, _, finding) => {
    const state = stateAt(workflow, finding);
    const next = state && workflow.mainLine[workflow.mainLine.indexOf(state.key) + 1];
    if (!state || !next) return [];
    const name = nameTo(stateOf(workflow, next));
    return [{ label: `Add a step “${name}”`, workflow: addTransition(workflow, name, state.key, next).workflow }];
  },
  "bypass-loop": (workflow, _, finding) => {
    const state = stateAt(workflow, finding);
    return state ? [{ label: `Switch ${state.name} on`, workflow: switchState(workflow, state.key, false) }] : [];
  },
  "nobody-can": (workflow, people, { at }) => {
    const step = at && "transition" in at ? transitionOf(workflow, at.transition) : undefined;
    if (!step) return [];
    const configuring = people.roles.filter((role) => role.permissions.includes("workflow.edit"));
    return [
      ...configuring.map((role) => ({
        label: `Open it to ${role.name}`,
        workflow: changeTransition(workflow, step.key, { by: [...new Set([...step.by, `role:${role.key}`])] }),
      })),
      { label: `Take “${step.name}” out`, workflow: removeTransition(workflow, step.key) },
    ];
  },
  "review-unstaffed": (workflow, people, finding) => {
    const state = stateAt(workflow, finding);
    if (!state?.review) return [];
    const staff = staffOf(workflow, people);
    const most = mostApprovals(staff, state.review, null);
    const fewer = Array.from({ length: most }, (_, i) => fewerApprovals(workflow, state, most - i));
    const empty = state.review.seats.findIndex((seat) => holders(staff, seat).size === 0);
    return [
      ...(state.review.rule === "count" ? fewer : []),
      ...(empty < 0 ? [] : seatTo(workflow, people, state, empty)),
    ];
  },
  "self-review-deadlock": (workflow, people, finding) => {
    const state = stateAt(workflow, finding);
    const count = state?.review?.count ?? 1;
    const fewer = state?.review?.rule === "count" && count > 1 ? [fewerApprovals(workflow, state, count - 1)] : [];
    return [...fewer, ...(state?.review ? seatTo(workflow, people, state, state.review.seats.length) : [])];
  },
  "unreviewed-release": (workflow, _, { witness }) => {
    const path = witness && "path" in witness ? witness.path : [];
    return path
      .map((key) => stateOf(workflow, key))
      .filter((state) => state.kind === "review")
      .map((state) => ({ label: `Switch ${state.name} on`, workflow: switchState(workflow, state.key, false) }));
  },
  "no-return": (workflow, _, finding) => {
    const state = stateAt(workflow, finding);
    const writing = state && workflow.mainLine.slice(0, Math.max(0, workflow.mainLine.indexOf(state.key)));
    const back = writing?.findLast((key) => stateOf(workflow, key).kind === "writing");
    if (!state?.review || !back) return [];
    const name = stateOf(workflow, back).name;
    const { workflow: stepped, key } = addTransition(workflow, `Back to ${name}`, state.key, back);
    return [
      {
        label: `Return pieces to ${name}`,
        workflow: changeState(stepped, state.key, { review: { ...state.review, return: key } }),
      },
    ];
  },
};

/** A step to an end, or back to where pieces begin. */
function wayOut(workflow: Workflow, _: People, finding: Finding): Mend[] {
  const state = stateAt(workflow, finding);
  if (!state) return [];
  const end = workflow.states.find((one) => one.kind === "closed");
  const targets = [stateOf(workflow, workflow.initial), ...(end ? [end] : [])].filter((one) => one.key !== state.key);
  return targets.map((target) => {
    const { workflow: stepped, key } = addTransition(workflow, nameTo(target), state.key, target.key);
    return {
      label: `Add a step to ${target.name}`,
      workflow: changeTransition(stepped, key, { by: ["author"] }),
    };
  });
}

function fewerApprovals(workflow: Workflow, state: State, count: number): Mend {
  const label = `Ask for ${count === 1 ? "one approval" : `${count} approvals`}`;
  const review = state.review && { ...state.review, count };
  return { label, workflow: changeState(workflow, state.key, { review }) };
}

/** Gives a seat to those who configure, who can then decide where nobody else may; a place past the last is a seat more. */
function seatTo(workflow: Workflow, people: People, state: State, place: number): Mend[] {
  const { review } = state;
  if (!review) return [];
  const more = place >= review.seats.length;
  return people.roles
    .filter((role) => role.permissions.includes("workflow.edit"))
    .map((role) => {
      const seats = review.seats.toSpliced(place, 1, { role: role.key, pick: "everyone" });
      const label = more ? `Give ${role.name} a seat` : `Give that seat to ${role.name}`;
      return { label, workflow: changeState(workflow, state.key, { review: { ...review, seats } }) };
    });
}
