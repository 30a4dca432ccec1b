import type { Workflow } from "../workflow/document.ts";

/** What is known of a piece at the moment it should reach readers. */
export interface Departure {
  workflow: Workflow;
  state: { name: string; kind: string };
  currentHash: string;
  /** The version the release was planned for. */
  plannedHash: string;
  /** What the last review passed approved; null when no review has passed. */
  approvedHash: string | null;
  fieldProblems: readonly string[];
  /** What is amiss with the files the text shows or hands out. */
  fileProblems: readonly string[];
  deleted: boolean;
  /** Whether whoever planned it may still release here. */
  plannerMayRelease: boolean;
}

/** Why a release cannot leave. */
export interface Hold {
  code: "not-ready" | "not-approved" | "text-changed" | "fields" | "files" | "deleted" | "not-granted";
  sentence: string;
}

/**
 * Looks at everything again before a piece reaches readers. Nothing leaves partly: one hold is enough.
 *
 * @returns the holds, none when it may leave
 */
export function preflight(departure: Departure): Hold[] {
  const holds: Hold[] = [];
  const reviewed = departure.workflow.states.some((state) => state.kind === "review" && !state.bypass);
  if (departure.deleted) holds.push({ code: "deleted", sentence: "The piece was deleted." });
  if (departure.state.kind !== "ready") {
    holds.push({ code: "not-ready", sentence: `It is in ${departure.state.name} and not ready for release.` });
  }
  if (reviewed && departure.approvedHash === null) {
    holds.push({ code: "not-approved", sentence: "No review has approved it." });
  } else if (reviewed && departure.approvedHash !== departure.currentHash) {
    holds.push({ code: "text-changed", sentence: "The text was changed after it was approved." });
  } else if (departure.plannedHash !== departure.currentHash) {
    holds.push({ code: "text-changed", sentence: "The text was changed after the release was planned." });
  }
  if (departure.fieldProblems.length > 0) {
    holds.push({ code: "fields", sentence: `Its fields are not complete: ${departure.fieldProblems.join("; ")}.` });
  }
  holds.push(...fileHolds(departure.fileProblems));
  if (!departure.plannerMayRelease) {
    holds.push({ code: "not-granted", sentence: "Whoever planned the release may no longer release here." });
  }
  return holds;
}

/** Why a piece cannot reach readers with the files it has. */
export const fileHolds = (problems: readonly string[]): Hold[] =>
  problems.length > 0 ? [{ code: "files", sentence: `Its files are not in order: ${problems.join("; ")}.` }] : [];
