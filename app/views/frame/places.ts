import { can, type Holder, inForce, PUBLICATION } from "#core/access/decide.ts";
import { extentOf, type Permission } from "#core/access/permissions.ts";

interface Place {
  to: string;
  name: string;
  about: string;
  /** Any of these lets one in; absent where everybody may. */
  needs?: readonly Permission[];
  /** Whether a grant for any part of the publication is enough. */
  anywhere?: boolean;
}

/** The places of the workshop, in the order of the left side. */
export const PLACES: readonly Place[] = [
  { to: "/turn", name: "Your turn", about: "What waits on you" },
  { to: "/intake", name: "Intake", about: "What came in and what nobody has begun" },
  { to: "/pieces", name: "Pieces", about: "Everything in flight" },
  { to: "/schedule", name: "Schedule", about: "What reaches readers, and when" },
  { to: "/editions", name: "Editions", about: "What leaves together, and as it went out" },
  { to: "/flow", name: "Flow", about: "Where pieces wait, how long, and what is likely" },
  { to: "/pending", name: "Waiting", about: "Who has it, and since when", needs: ["piece.route"], anywhere: true },
  { to: "/load", name: "Load", about: "Who has how much", needs: ["piece.route"], anywhere: true },
  { to: "/workflows", name: "Workflows", about: "The lines pieces travel on", needs: ["workflow.edit"] },
  {
    to: "/people",
    name: "People",
    about: "Who may do what, and where",
    needs: ["access.edit"],
  },
  {
    to: "/publication",
    name: "Publication",
    about: "What belongs to all of it",
    needs: ["publication.edit", "section.edit", "workflow.edit", "ledger.read"],
  },
];

/** The rooms of People, in order. */
export const PEOPLE_ROOMS: readonly Place[] = [
  { to: "/people", name: "Who", about: "Everybody who works here", needs: ["access.edit"] },
  { to: "/people/roles", name: "Roles", about: "What each role allows", needs: ["access.edit"] },
  { to: "/people/groups", name: "Groups", about: "People who are given roles together", needs: ["access.edit"] },
];

/** The rooms of Publication, in order. */
export const PUBLICATION_ROOMS: readonly Place[] = [
  {
    to: "/publication",
    name: "Name and calendar",
    about: "Its name, zone and working calendar",
    needs: ["publication.edit"],
  },
  { to: "/publication/sections", name: "Sections", about: "The tree of sections", needs: ["section.edit"] },
  { to: "/publication/kinds", name: "Kinds", about: "Fields, guidance and limits", needs: ["section.edit"] },
  {
    to: "/publication/channels",
    name: "Channels",
    about: "When anything may leave, and what to look out for",
    needs: ["publication.edit"],
  },
  {
    to: "/publication/intake",
    name: "Taking in",
    about: "Forms for requests, and how ideas are judged",
    needs: ["publication.edit"],
  },
  {
    to: "/publication/assistant",
    name: "Assistant",
    about: "Which outside service may be asked for words, and where",
    needs: ["publication.edit"],
  },
  {
    to: "/publication/rules",
    name: "Rules",
    about: "What always follows from something happens by itself",
    needs: ["workflow.edit"],
  },
  {
    to: "/publication/telling",
    name: "Messages",
    about: "How people are told, and what did not leave",
    needs: ["publication.edit"],
  },
  {
    to: "/publication/wording",
    name: "Wording",
    about: "In which words people are told",
    needs: ["publication.edit"],
  },
  { to: "/publication/record", name: "Record", about: "Everything that happened", needs: ["ledger.read"] },
];

/** The places of these a person may use. */
export function open(places: readonly Place[], who: Holder, now: number): Place[] {
  return places.filter(
    ({ needs, anywhere }) =>
      !needs ||
      needs.some((one) => (anywhere ? holdsAnywhere(who, one, now) : can(who, one, PUBLICATION, now).allowed)),
  );
}

const holdsAnywhere = (who: Holder, permission: Permission, now: number) =>
  who.grants.some((grant) => inForce(grant, now) && extentOf(grant.permissions, permission) === "yes");

/** Whether somebody may pass work on to others in any part of the publication. */
export const routesAnywhere = (who: Holder, now: number) => holdsAnywhere(who, "piece.route", now);
