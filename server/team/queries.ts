import { and, count, eq, gte, isNull, lte } from "drizzle-orm";
import { can, principalsOf, type Target } from "#core/access/decide.ts";
import { type Principal, sayPrincipal } from "#core/people/principals.ts";
import type { Candidate } from "#core/review/seating.ts";
import { loadHolders, type Person } from "../access/holders.ts";
import { visible } from "../access/visible.ts";
import type { Queryable } from "../db/client.ts";
import { absence, person, piece, seat } from "../db/schema/index.ts";
import type { Viewer } from "../viewer.ts";

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
    .innerJoin(piece, and(eq(piece.id, seat.pieceId), isNull(piece.deletedAt)))
    .where(eq(seat.status, "open"))
    .groupBy(seat.personId);
  return {
    people,
    away: new Set(away.keys()),
    load: new Map(load.map((row) => [row.id, row.seats])),
    standIns: new Map(rows.map((row) => [row.id, row.standInId])),
  };
}

/** How many open seats people hold on pieces a viewer may see: what they are shown of others' load. */
export async function loadsSeen(db: Queryable, viewer: Viewer): Promise<Map<string, number>> {
  const rows = await db
    .select({ id: seat.personId, seats: count() })
    .from(seat)
    .innerJoin(piece, eq(piece.id, seat.pieceId))
    .where(and(eq(seat.status, "open"), visible(viewer)))
    .groupBy(seat.personId);
  return new Map(rows.map((row) => [row.id, row.seats]));
}

/** Who is away on a local date, by id, with the last day of the absence. */
export async function awayOn(db: Queryable, day: string): Promise<Map<string, string>> {
  const rows = await db
    .select({ id: absence.personId, until: absence.until })
    .from(absence)
    .where(and(lte(absence.from, day), gte(absence.until, day)));
  return new Map(rows.map((row) => [row.id, row.until]));
}

/**
 * The team as the seating of a round on this target sees it, once it was sent: a private draft is
 * its writer's alone until then. Roles and rights are worked out when
 * they are asked for: of most people a piece asks neither.
 */
export function asCandidates(team: Team, of: Target, now: number): Candidate[] {
  const target = { ...of, piece: of.piece && { ...of.piece, private: false } };
  return [...team.people.values()].map((one) => {
    let roles: string[] | undefined;
    return {
      id: one.id,
      key: one.key,
      name: one.name,
      active: one.active,
      load: team.load.get(one.id) ?? 0,
      away: team.away.has(one.id),
      standInId: team.standIns.get(one.id) ?? null,
      get roles() {
        roles ??= rolesAt(one, target, now);
        return roles;
      },
      get decides() {
        return can(one, "review.decide", target, now).allowed;
      },
    };
  });
}

/** Principals in words: names of people and roles, for "who could". */
export function sayPrincipals(team: Team, principals: readonly Principal[], target: Target): string[] {
  const people = [...team.people.values()];
  const grants = people.flatMap((one) => one.grants);
  const names = {
    author: people.find((one) => one.id === target.piece?.authorId)?.name,
    person: (key: string) => people.find((one) => one.key === key)?.name ?? key,
    role: (key: string) => grants.find((grant) => grant.roleKey === key)?.roleName ?? key,
  };
  return principals.map((principal) => sayPrincipal(principal, names));
}

function rolesAt(one: Person, target: Target, now: number): string[] {
  return [...principalsOf(one, target, now)].flatMap((principal) =>
    principal.startsWith("role:") ? [principal.slice("role:".length)] : [],
  );
}
