import type { Workflow } from "#core/workflow/document.ts";

/** Changes of one setting that follow each other this fast are undone together. Milliseconds. */
const TOGETHER = 1_200;
/** How many steps can be undone. */
export const KEPT_STEPS = 60;

/** A workflow with the steps that led to it and those taken back. */
export interface History {
  past: Workflow[];
  present: Workflow;
  future: Workflow[];
  /** Which setting was changed last, and when, so that a word typed is one step. */
  last: { setting: string; at: number } | null;
}

export type Step =
  | { kind: "change"; make(workflow: Workflow): Workflow; setting: string | null; at: number }
  | { kind: "undo" }
  | { kind: "redo" }
  | { kind: "replace"; history: History };

/** The history after one more step; the very same one where nothing changed. */
export function follow(history: History, step: Step): History {
  const { past, present, future, last } = history;
  if (step.kind === "replace") return step.history;
  if (step.kind === "undo") {
    const before = past.at(-1);
    return before ? { past: past.slice(0, -1), present: before, future: [present, ...future], last: null } : history;
  }
  if (step.kind === "redo") {
    const [next, ...rest] = future;
    return next ? { past: [...past, present], present: next, future: rest, last: null } : history;
  }
  const next = step.make(present);
  if (next === present) return history;
  const together = last !== null && last.setting === step.setting && step.at - last.at < TOGETHER;
  return {
    past: together ? past : [...past, present].slice(-KEPT_STEPS),
    present: next,
    future: [],
    last: step.setting === null ? null : { setting: step.setting, at: step.at },
  };
}

/** A history in which nothing has been done yet. */
export const bare = (present: Workflow): History => ({ past: [], present, future: [], last: null });
