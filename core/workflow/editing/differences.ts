import canonicalize from "canonicalize";
import type { Workflow } from "../document.ts";

/** One difference between two workflows, in words, and the state or transition it concerns. */
export interface Difference {
  sort: "added" | "removed" | "changed";
  what: "state" | "transition" | "workflow";
  key: string;
  words: string;
}

/** What differs between two workflows, in the order of the later one, removed things last. */
export function differences(before: Workflow, after: Workflow): Difference[] {
  const whole = changedParts(before, after, ["key", "format", "states", "transitions"]);
  return [
    ...(whole.length > 0
      ? [
          {
            sort: "changed" as const,
            what: "workflow" as const,
            key: after.key,
            words: `The workflow: ${whole.join(", ")}`,
          },
        ]
      : []),
    ...differing(before.states, after.states, "state"),
    ...differing(before.transitions, after.transitions, "transition"),
    ...(sameOrder(before, after)
      ? []
      : [{ sort: "changed" as const, what: "workflow" as const, key: after.key, words: "The order of the states" }]),
  ];
}

function differing<T extends { key: string; name: string }>(
  before: readonly T[],
  after: readonly T[],
  what: "state" | "transition",
): Difference[] {
  const old = new Map(before.map((one) => [one.key, one]));
  const kept = new Set(after.map((one) => one.key));
  const present = after.flatMap((one): Difference[] => {
    const earlier = old.get(one.key);
    if (!earlier) return [{ sort: "added", what, key: one.key, words: `${one.name} is new` }];
    const parts = changedParts(earlier, one, ["key"]);
    return parts.length > 0 ? [{ sort: "changed", what, key: one.key, words: `${one.name}: ${parts.join(", ")}` }] : [];
  });
  const gone = before
    .filter((one) => !kept.has(one.key))
    .map((one): Difference => ({ sort: "removed", what, key: one.key, words: `${one.name} is gone` }));
  return [...present, ...gone];
}

/** The settings of one thing, as a difference names them. */
const PART_WORDS: Record<string, string> = {
  take: "time allowed",
  editors: "who may change the text",
  viewers: "who may read it",
  arrival: "what happens on arrival",
  review: "how it is reviewed",
  bypass: "whether it is switched off",
  from: "where it leaves",
  to: "where it leads",
  by: "who may take it",
  requires: "what it requires",
  notify: "who is told",
  mainLine: "the main line",
  initial: "where pieces begin",
  effective: "when it is valid",
};

function changedParts(before: object, after: object, but: readonly string[]): string[] {
  const [a, b] = [before as Record<string, unknown>, after as Record<string, unknown>];
  const parts = [...new Set([...Object.keys(a), ...Object.keys(b)])].filter((part) => !but.includes(part));
  return parts
    .filter((part) => canonicalize(a[part]) !== canonicalize(b[part]))
    .map((part) => (part === "name" ? `was called ${String(a.name)}` : (PART_WORDS[part] ?? part)));
}

function sameOrder(before: Workflow, after: Workflow): boolean {
  const order = (workflow: Workflow, other: Workflow) =>
    workflow.states.map((state) => state.key).filter((key) => other.states.some((state) => state.key === key));
  return order(before, after).join() === order(after, before).join();
}
