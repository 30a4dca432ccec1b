import { and, eq, gte, isNull, lte, type SQL } from "drizzle-orm";
import { can, principalsOf, type Target } from "#core/access/decide.ts";
import { type Principal, sayPrincipal } from "#core/people/principals.ts";
import type { Candidate } from "#core/review/seating.ts";
import { loadHolders, type Person } from "../access/holders.ts";
import { type Reader, visible } from "../access/visible.ts";
import type { Queryable } from "../db/client.ts";
import { absence, person, piece, seat } from "../db/schema/index.ts";

/** Everybody who may work here: what they hold, who stands in for them, and when they are away. */
export interface Roster {
  people: Map<string, Person>;
  standIns: Map<string, string | null>;
  /** Local dates, `2026-11-24`, both days included. */
  absences: { personId: string; from: string; until: string }[];
}

/** How many open seats a person holds, in all or elsewhere than on one piece. */
export type Load = (personId: string, elsewhereThan?: string) => number;

/** The roster on a day, with how much waits on each. */
export interface Team extends Pick<Roster, "people" | "standIns"> {
  away: Set<string>;
  load: Load;
  /** When the first of what waits on people is due, epoch milliseconds; of who has nothing due nothing. */
  firstDue: ReadonlyMap<string, number>;
}

/** What waits on people: how many seats, and when the first of them is due. */
type Waiting = Pick<Team, "load" | "firstDue">;

/** Nothing waits on anybody. */
export const NO_LOAD: Load = () => 0;
export const NOTHING_WAITS: Waiting = { load: NO_LOAD, firstDue: new Map() };

/** The roster as it stands now; with every absence, past and to come. */
export async function loadRoster(db: Queryable): Promise<Roster> {
  const [rows, absences] = await Promise.all([
    db
      .select({ id: person.id, standInId: person.standInId })
      .from(person)
      .where(and(eq(person.active, true), eq(person.guest, false))),
    db.select({ personId: absence.personId, from: absence.from, until: absence.until }).from(absence),
  ]);
  const people = await loadHolders(
    db,
    rows.map((row) => row.id),
  );
  return { people, standIns: new Map(rows.map((row) => [row.id, row.standInId])), absences };
}

/** @param today the local date in the publication's zone, `2026-11-24` */
export async function loadTeam(db: Queryable, today: string): Promise<Team> {
  const [roster, waiting] = await Promise.all([loadRoster(db), openSeats(db, isNull(piece.deletedAt))]);
  return teamOf(roster, today, waiting);
}

/** A roster on a day. @param waiting what waits on people */
export function teamOf({ people, standIns, absences }: Roster, today: string, waiting: Waiting): Team {
  const away = absences.filter(({ from, until }) => from <= today && today <= until);
  return { people, standIns, away: new Set(away.map((one) => one.personId)), ...waiting };
}

/** What waits on people on pieces a viewer may see: what they are shown of others' load. */
export const loadsSeen = (db: Queryable, viewer: Reader): Promise<Waiting> => openSeats(db, visible(viewer));

async function openSeats(db: Queryable, which: SQL | undefined): Promise<Waiting> {
  const rows = await db
    .select({ personId: seat.personId, pieceId: seat.pieceId, dueAt: piece.dueAt })
    .from(seat)
    .innerJoin(piece, eq(piece.id, seat.pieceId))
    .where(and(eq(seat.status, "open"), which));
  const counts = new Map<string, number>();
  for (const { personId, pieceId } of rows)
    for (const key of [personId, `${personId} ${pieceId}`]) counts.set(key, (counts.get(key) ?? 0) + 1);
  const at = (key: string) => counts.get(key) ?? 0;
  const firstDue = new Map<string, number>();
  for (const { personId, dueAt } of rows)
    if (dueAt !== null) firstDue.set(personId, Math.min(dueAt, firstDue.get(personId) ?? dueAt));
  return {
    load: (personId, elsewhereThan) => at(personId) - (elsewhereThan ? at(`${personId} ${elsewhereThan}`) : 0),
    firstDue,
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
      load: team.load(one.id, of.piece?.id),
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
