import { and, eq, inArray } from "drizzle-orm";
import { type Grant, type Holder, inForce, type Scope } from "#core/access/decide.ts";
import type { Held } from "#core/access/permissions.ts";
import type { Queryable } from "../db/client.ts";
import { accessGrant, groupMember, person, personGroup, role, rolePermission } from "../db/schema/index.ts";

/** A person with what they hold, as every decision needs them. */
export interface Person extends Holder {
  grants: readonly HeldGrant[];
  name: string;
  email: string;
  /** Whether they came by a guest link. */
  guest: boolean;
  /** The zone they chose to see times in; null for the publication's. */
  ownZone: string | null;
  seenBy?: Person | undefined;
}

/** A grant, with whether who holds its role signs in with a second factor. */
export interface HeldGrant extends Grant {
  secondFactor: boolean;
}

/** Whether a role somebody holds now demands a second factor. */
export const demandsSecondFactor = (who: Person, now: number) =>
  who.grants.some((grant) => grant.secondFactor && inForce(grant, now));

/** Loads one person with their grants; null when there is no such person. */
export async function loadHolder(db: Queryable, id: string): Promise<Person | null> {
  return (await loadHolders(db, [id])).get(id) ?? null;
}

/** Loads people with their grants by id, in two statements: their own, and those of their groups. */
export async function loadHolders(db: Queryable, ids: readonly string[]): Promise<Map<string, Person>> {
  if (ids.length === 0) return new Map();
  const held = {
    grant: accessGrant,
    roleKey: role.key,
    roleName: role.name,
    secondFactor: role.secondFactor,
    permission: rolePermission.permission,
  };
  const [own, shared] = await Promise.all([
    db
      .select({
        id: person.id,
        key: person.key,
        name: person.name,
        email: person.email,
        active: person.active,
        guest: person.guest,
        ownZone: person.zone,
        ...held,
      })
      .from(person)
      .leftJoin(accessGrant, eq(accessGrant.personId, person.id))
      .leftJoin(role, eq(role.id, accessGrant.roleId))
      .leftJoin(rolePermission, eq(rolePermission.roleId, role.id))
      .where(inArray(person.id, [...ids]))
      .orderBy(person.name, person.id),
    db
      .select({ id: groupMember.personId, group: personGroup.name, ...held })
      .from(groupMember)
      .innerJoin(personGroup, eq(personGroup.id, groupMember.groupId))
      .innerJoin(accessGrant, eq(accessGrant.groupId, groupMember.groupId))
      .innerJoin(role, eq(role.id, accessGrant.roleId))
      .leftJoin(rolePermission, eq(rolePermission.roleId, role.id))
      .where(inArray(groupMember.personId, [...ids])),
  ]);
  const people = new Map<string, Growing>();
  for (const { grant, roleKey, roleName, secondFactor, permission, ...who } of own) {
    const known = people.get(who.id) ?? { ...who, grants: [] };
    people.set(who.id, known);
    if (grant && roleKey && roleName)
      add(known, null, { grant, roleKey, roleName, secondFactor: secondFactor === true, permission });
  }
  for (const { id, group, ...row } of shared) add(people.get(id) as Growing, group, row);
  return people;
}

type Growing = Omit<Person, "grants"> & { grants: (Omit<HeldGrant, "permissions"> & { permissions: Held[] })[] };

interface HeldRow {
  grant: typeof accessGrant.$inferSelect;
  roleKey: string;
  roleName: string;
  secondFactor: boolean;
  permission: string | null;
}

function add(to: Growing, group: string | null, { grant, roleKey, roleName, secondFactor, permission }: HeldRow): void {
  let held = to.grants.find((candidate) => candidate.id === grant.id);
  if (!held) {
    held = { ...asGrant(grant, roleKey, roleName, group), secondFactor };
    to.grants.push(held);
  }
  if (permission) held.permissions.push(permission as Held);
}

/** A grant's row as decisions know it, its role's permissions still to be added. */
export function asGrant(row: typeof accessGrant.$inferSelect, roleKey: string, roleName: string, group: string | null) {
  const scope = (row.scope === "publication" ? { kind: "publication" } : { kind: row.scope, id: row.scopeId }) as Scope;
  const { id, from, until, publishFrom, publishUntil } = row;
  return { id, group, roleKey, roleName, permissions: [] as Held[], scope, from, until, publishFrom, publishUntil };
}

/** Everybody at work, with what they hold; guests are not among them. */
export async function loadEverybody(db: Queryable): Promise<Map<string, Person>> {
  const rows = await db
    .select({ id: person.id })
    .from(person)
    .where(and(eq(person.active, true), eq(person.guest, false)));
  return loadHolders(
    db,
    rows.map((row) => row.id),
  );
}
