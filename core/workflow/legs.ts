import type { Leg } from "../time/plan.ts";
import { type State, stateOf, type Workflow } from "./document.ts";

/** A stop with the time work there may take. */
export const legAt = ({ key, take }: State): Leg => ({ key, take: take ?? null });

/** The stops of a main line behind a place in it, switched-off ones left out. @param place from zero; -1 for all */
export const legsAfter = (workflow: Workflow, place: number): Leg[] =>
  workflow.mainLine
    .slice(place + 1)
    .map((key) => stateOf(workflow, key))
    .filter((state) => !state.bypass)
    .map(legAt);

/** A stop and all behind it on the main line; nothing where it lies beside the line, or the line ends there. */
export function legsFrom(workflow: Workflow, state: State): Leg[] {
  const place = workflow.mainLine.indexOf(state.key);
  return place < 0 || state.kind === "live" || state.kind === "closed"
    ? []
    : [legAt(state), ...legsAfter(workflow, place)];
}
