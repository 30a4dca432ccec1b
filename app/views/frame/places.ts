import { can, type Holder, PUBLICATION } from "#core/access/decide.ts";
import type { Permission } from "#core/access/permissions.ts";

interface Place {
  to: string;
  name: string;
  about: string;
  /** Any of these lets one in; absent where everybody may. */
  needs?: readonly Permission[];
}

/** The places of the workshop, in the order of the left side. */
export const PLACES: readonly Place[] = [
  { to: "/turn", name: "Your turn", about: "What waits on you" },
  { to: "/pieces", name: "Pieces", about: "Everything in flight" },
  { to: "/schedule", name: "Schedule", about: "What reaches readers, and when" },
  { to: "/workflows", name: "Workflows", about: "The lines pieces travel on", needs: ["workflow.edit"] },
  {
    to: "/people",
    name: "People",
    about: "Who may do what, and where",
    needs: ["access.edit", "section.edit", "ledger.read"],
  },
  {
    to: "/publication",
    name: "Publication",
    about: "Its name, zone and working calendar",
    needs: ["publication.edit"],
  },
];

/** The rooms of People, in order. */
export const ROOMS: readonly Place[] = [
  { to: "/people", name: "Who", about: "Everybody who works here", needs: ["access.edit"] },
  { to: "/people/roles", name: "Roles", about: "What each role allows", needs: ["access.edit"] },
  { to: "/people/groups", name: "Groups", about: "People who are given roles together", needs: ["access.edit"] },
  { to: "/people/sections", name: "Sections", about: "The tree of sections", needs: ["section.edit"] },
  { to: "/people/kinds", name: "Kinds", about: "Fields, guidance and limits", needs: ["section.edit"] },
  { to: "/people/record", name: "Record", about: "Everything that happened", needs: ["ledger.read"] },
];

/** The places of these a person may use. */
export function open(places: readonly Place[], who: Holder, now: number): Place[] {
  return places.filter(({ needs }) => !needs || needs.some((one) => can(who, one, PUBLICATION, now).allowed));
}
