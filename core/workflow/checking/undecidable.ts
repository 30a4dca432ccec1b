import type { People } from "../../people/document.ts";
import type { Workflow } from "../document.ts";
import { holders, staffOf } from "./staffing.ts";

/**
 * The seats of a workflow whose every holder lacks the permission to decide: what the checker of the
 * document cannot know, since a document's people may be without permissions.
 *
 * @returns a sentence for each, in the order of the states
 */
export function undecidable(workflow: Workflow, people: People): string[] {
  const deciding = new Set(
    people.roles.filter((role) => role.permissions.includes("review.decide")).map((role) => role.key),
  );
  const able = new Set(
    people.people.filter((one) => one.roles.some((role) => deciding.has(role))).map((one) => one.key),
  );
  const staff = staffOf(workflow, people);
  return workflow.states.flatMap(({ name, review }) =>
    (review?.seats ?? []).flatMap((seat) => {
      const sitting = [...holders(staff, seat)];
      if (sitting.length === 0 || sitting.some((key) => able.has(key))) return [];
      const who =
        "person" in seat
          ? (people.people.find((one) => one.key === seat.person)?.name ?? seat.person)
          : `who sits as ${people.roles.find((one) => one.key === seat.role)?.name ?? seat.role}`;
      return `${name}: ${who} may not decide in a review.`;
    }),
  );
}
