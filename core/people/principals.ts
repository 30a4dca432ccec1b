import { z } from "zod";

/** Who a rule speaks of: `author`, `assignee`, `anyone`, `role:KEY`, `person:KEY`; on arrival also `least-busy:ROLE`. */
export type Principal = string;

const KEY = "[a-z0-9]+(-[a-z0-9]+)*";

/** Who a rule speaks of: the piece's author, whoever has it, anyone, a role, a person. */
export const principalSchema = z
  .string()
  .regex(
    new RegExp(`^(author|assignee|anyone|(role|person):${KEY})$`),
    "expected author, assignee, anyone, role:KEY or person:KEY",
  );

/** Who is given a piece when it arrives: a principal, or the least busy of a role. */
export const assignedSchema = z
  .string()
  .regex(
    new RegExp(`^(author|assignee|anyone|(role|person|least-busy):${KEY})$`),
    "expected author, assignee, anyone, role:KEY, person:KEY or least-busy:ROLE",
  );

/** A principal taken apart. */
export type Meaning =
  | { sort: "author" | "assignee" | "anyone"; key: null }
  | { sort: "role" | "person" | "least-busy"; key: string };

/** Takes a principal apart. */
export function meaningOf(principal: Principal): Meaning {
  const colon = principal.indexOf(":");
  if (colon < 0) return { sort: principal as "author" | "assignee" | "anyone", key: null };
  return { sort: principal.slice(0, colon) as "role" | "person" | "least-busy", key: principal.slice(colon + 1) };
}

/** Somebody a principal may mean, with the roles they have where it is asked. */
export interface Member {
  id: string;
  key: string;
  name: string;
  active: boolean;
  roles: readonly string[];
  /** Open seats they hold elsewhere. */
  load: number;
  /** Whether they are away on the day it is asked. */
  away: boolean;
}

/** What principals are matched against: a piece's author and those who have it, and everybody. */
export interface Cast {
  authorId: string | null;
  /** Those it is assigned to and those seated in its open review. */
  assigneeIds: readonly string[];
  people: readonly Member[];
}

/**
 * The people a list of principals means, by id, each once. `anyone` names nobody in particular; the
 * least busy of a role is the one at work with the least waiting, by name where several have.
 */
export function peopleMeant(principals: readonly Principal[], { authorId, assigneeIds, people }: Cast): string[] {
  const having = (role: string) => people.filter((one) => one.active && one.roles.includes(role));
  const ids = principals.flatMap((principal) => {
    const { sort, key } = meaningOf(principal);
    if (sort === "author") return authorId === null ? [] : [authorId];
    if (sort === "assignee") return assigneeIds;
    if (sort === "person") return people.filter((one) => one.active && one.key === key).map((one) => one.id);
    if (sort === "role") return having(key).map((one) => one.id);
    if (sort === "least-busy")
      return [...having(key)]
        .sort(leastBusyFirst)
        .slice(0, 1)
        .map((one) => one.id);
    return [];
  });
  return [...new Set(ids)];
}

/** Puts people in the order in which work is given: those at work first, then who has least, then by name. */
export const leastBusyFirst = (a: Member, b: Member) =>
  Number(a.away) - Number(b.away) || a.load - b.load || a.name.localeCompare(b.name);

/** What the things a principal names are called. */
export interface PrincipalNames {
  role(key: string): string;
  person(key: string): string;
  /** The author's name, where the piece is known. */
  author?: string | undefined;
}

/** A principal in words: a person's name, the name of a role, the author. */
export function sayPrincipal(principal: Principal, names: PrincipalNames): string {
  const { sort, key } = meaningOf(principal);
  if (sort === "person") return names.person(key);
  if (sort === "role") return names.role(key);
  if (sort === "least-busy") return `the least busy of ${names.role(key)}`;
  if (sort === "author") return names.author ?? "the author";
  return sort === "assignee" ? "whoever has it" : "anyone";
}
