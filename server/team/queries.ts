import { and, count, eq, gte, lte } from "drizzle-orm";
import { principalsOf, type Target } from "#core/access/decide.ts";
import type { Candidate } from "#core/review/seating.ts";
import type { Principal } from "#core/workflow/document.ts";
import { loadHolders, type Person } from "../access/holders.ts";
import type { Queryable } from "../db/client.ts";
import { absence, person, seat } from "../db/schema/index.ts";

/** Everybody who may work here now, with what they hold, how much waits on them, and who is away. */
export interface Team {
  people: Map<string, Person>;
  away: Set<string>;
  load: Map<string, number>;
  standIns: Map<string, string | null>;
}

/** @param today the local date in the publication's zone, `2026-11-24` */
export async function loadTeam(db: Queryable, today: string): Promise<Team> {
  const rows = await db
    .select({ id: person.id, standInId: person.standInId })
    .from(person)
    .where(and(eq(person.active, true), eq(person.guest, false)));
  const people = await loadHolders(
    db,
    rows.map((row) => row.id),
  );
  const away = await awayOn(db, today);
  const load = await db
    .select({ id: seat.personId, seats: count() })
    .from(seat)
    .where(eq(seat.status, "open"))
    .groupBy(seat.personId);
  return {
    people,
    away: new Set(away.keys()),
    load: new Map(load.map((row) => [row.id, row.seats])),
    standIns: new Map(rows.map((row) => [row.id, row.standInId])),
  };
}

/** Who is away on a local date, by id, with the last day of the absence. */
export async function awayOn(db: Queryable, day: string): Promise<Map<string, string>> {
  const rows = await db
    .select({ id: absence.personId, until: absence.until })
    .from(absence)
    .where(and(lte(absence.from, day), gte(absence.until, day)));
  return new Map(rows.map((row) => [row.id, row.until]));
}

/** The team as the seating of a round on this target sees it. */
export function asCandidates(team: Team, target: Target, now: number): Candidate[] {
  return [...team.people.values()].map((one) => ({
    id: one.id,
    key: one.key,
    name: one.name,
    active: one.active,
    roles: rolesAt(one, target, now),
    load: team.load.get(one.id) ?? 0,
    away: team.away.has(one.id),
    standInId: team.standIns.get(one.id) ?? null,
  }));
}

/** The people a list of principals means on a target, by id. `anyone` names nobody in particular. */
export function peopleMeant(team: Team, principals: readonly Principal[], target: Target, now: number): string[] {
  const meant = principals.flatMap((principal) => {
    if (principal === "author") return target.piece ? [target.piece.authorId] : [];
    if (principal === "assignee") return [...(target.piece?.assigneeIds ?? [])];
    const name = principal.slice(principal.indexOf(":") + 1);
    if (principal.startsWith("person:"))
      return [...team.people.values()].filter((one) => one.key === name).map((one) => one.id);
    if (principal.startsWith("role:"))
      return [...team.people.values()].filter((one) => rolesAt(one, target, now).includes(name)).map((one) => one.id);
    return [];
  });
  return [...new Set(meant)];
}

/** Principals in words: names of people and roles, for "who could". */
export function sayPrincipals(team: Team, principals: readonly Principal[], target: Target): string[] {
  const people = [...team.people.values()];
  const role = (key: string) =>
    people.flatMap((one) => one.grants).find((grant) => grant.roleKey === key)?.roleName ?? key;
  return principals.map((principal) => {
    const name = principal.slice(principal.indexOf(":") + 1);
    if (principal === "author") return people.find((one) => one.id === target.piece?.authorId)?.name ?? "the author";
    if (principal === "assignee") return "whoever it is assigned to";
    return principal.startsWith("person:") ? (people.find((one) => one.key === name)?.name ?? name) : role(name);
  });
}

function rolesAt(one: Person, target: Target, now: number): string[] {
  return [...principalsOf(one, target, now)].flatMap((principal) =>
    principal.startsWith("role:") ? [principal.slice("role:".length)] : [],
  );
}
