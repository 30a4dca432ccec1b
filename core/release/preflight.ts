import { uncapital } from "../words/say.ts";
import type { Transition, Workflow } from "../workflow/document.ts";
import type { Standing } from "../workflow/moves.ts";

/** What is known of a piece at the moment it should reach readers. */
export interface Departure {
  workflow: Workflow;
  state: { name: string; kind: string };
  /** The step by which it would reach readers; null where none leads there from its state. */
  step: Transition | null;
  /** Whether it leaves without a step: it is out elsewhere already, or stays for what is still planned of it. */
  stays: boolean;
  /** The hash of the present words, as far as an approval binds to them. */
  currentHash: string;
  /** The same of the version the release was planned for; null where nothing was planned. */
  plannedHash: string | null;
  /** The same of what the last review passed approved; null when no review has passed. */
  approvedHash: string | null;
  /** What the step asks of the piece, as it stands. */
  standing: Pick<Standing, "fieldProblems" | "openChecklist" | "openComments" | "publishAt">;
  /** What is amiss with the files the text shows or hands out. */
  fileProblems: readonly string[];
  deleted: boolean;
  /** Whether it was withdrawn from readers with these words, and nobody has decided since that they get it again. */
  withdrawn: boolean;
  /** Until when it is under embargo, in words; null where it is under none at that time. */
  embargo: string | null;
  /** When its channel opens again, in words; null where it is open at that time, or the release keeps to no window. */
  closed: string | null;
  /** Whoever answers for it: whether they may release here, are named on the step, and wrote the piece. */
  cause: { mayRelease: boolean; named: boolean; wrote: boolean };
}

/** Why a piece cannot reach readers: a code, and what it is about where there is more to say. */
export interface Hold {
  code: HoldCode;
  about?: string[];
}

export type HoldCode =
  | "deleted"
  | "not-ready"
  | "no-step"
  | "not-approved"
  | "text-changed"
  | "plan-changed"
  | "fields"
  | "files"
  | "checklist"
  | "comments-open"
  | "not-granted"
  | "not-named"
  | "not-author"
  | "embargo"
  | "window"
  | "not-signed"
  | "empty"
  | "withdrawn";

/** A hold in a sentence. */
export function sayHold({ code, about = [] }: Hold): string {
  const what = about.join("; ");
  const sentences: Record<HoldCode, string> = {
    deleted: "The piece was deleted.",
    "not-ready": `It is in ${what} and not ready for release.`,
    "no-step": `Its workflow has no step from ${what} to readers.`,
    "not-approved": "No review has approved it.",
    "text-changed": "The text was changed after it was approved.",
    "plan-changed": "The text was changed after the release was planned.",
    fields: `Its fields are not complete: ${what}.`,
    files: `Its files are not in order: ${what}.`,
    checklist: `Its checklist is not done: ${what}.`,
    "comments-open": "Comments on it are not settled.",
    "not-granted": "Whoever answers for the release may not release here.",
    "not-named": `“${what}” is not for whoever answers for the release.`,
    "not-author": `Its author does not take “${what}”.`,
    embargo: `It is under embargo until ${what}.`,
    "not-signed": "It is not signed off.",
    empty: "There is nothing in it.",
    window: `Nothing leaves at that time; the next window opens ${what}.`,
    withdrawn: "It was withdrawn. Release it on the reader site again first, or change its text.",
  };
  return sentences[code];
}

/**
 * The last look: everything is asked again before a piece reaches readers, whatever brings it there.
 * Nothing leaves partly: one hold is enough. What an approval binds to is compared, the fields are
 * complete, the files in order, what the step asks is there, and whoever causes it may.
 *
 * @returns the holds, none when it may leave
 */
export function preflight(departure: Departure): Hold[] {
  const { workflow, state, step, standing, cause, currentHash, plannedHash, approvedHash } = departure;
  const asks = (requirement: Transition["requires"][number]) => step?.requires.includes(requirement) ?? false;
  const reviewed = workflow.states.some((one) => one.kind === "review" && !one.bypass);
  const holds: (Hold | false)[] = [
    departure.deleted && { code: "deleted" },
    departure.withdrawn && { code: "withdrawn" },
    plannedHash !== null && state.kind !== "ready" && !(departure.stays && state.kind === "live")
      ? { code: "not-ready", about: [state.name] }
      : step === null && !departure.stays && { code: "no-step", about: [state.name] },
    reviewed && approvedHash !== currentHash
      ? { code: approvedHash === null ? "not-approved" : "text-changed" }
      : plannedHash !== null && plannedHash !== currentHash && { code: "plan-changed" },
    standing.fieldProblems.length > 0 && { code: "fields", about: [...standing.fieldProblems] },
    departure.fileProblems.length > 0 && { code: "files", about: [...departure.fileProblems] },
    asks("checklist") && standing.openChecklist.length > 0 && { code: "checklist", about: [...standing.openChecklist] },
    asks("comments-settled") && standing.openComments > 0 && { code: "comments-open" },
    departure.embargo !== null && { code: "embargo", about: [departure.embargo] },
    departure.closed !== null && { code: "window", about: [departure.closed] },
    !cause.mayRelease && { code: "not-granted" },
    step !== null && !cause.named && { code: "not-named", about: [step.name] },
    step !== null && asks("not-author") && cause.wrote && { code: "not-author", about: [step.name] },
  ];
  return holds.filter((hold) => hold !== false);
}

/** Whether a hold hangs on who answers for the release, and not on the piece. */
export const isOfRight = ({ code }: Hold): boolean =>
  code === "not-granted" || code === "not-named" || code === "not-author";

/** Whether two lists of holds say the same. */
export const sameHolds = (a: readonly Hold[], b: readonly Hold[]) => JSON.stringify(a) === JSON.stringify(b);

/** A hold as the refusal of a step by hand. */
export const asRefusal = (holds: readonly Hold[]) => {
  const [first, ...more] = holds.map((hold) => ({ code: hold.code, sentence: sayHold(hold) }));
  return first ? { ...first, missing: more.map((one) => uncapital(one.sentence)) } : null;
};
