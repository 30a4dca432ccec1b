import { eq, inArray } from "drizzle-orm";
import type { Grant, Holder, Scope } from "#core/access/decide.ts";
import type { Held } from "#core/access/permissions.ts";
import type { Queryable } from "../db/client.ts";
import { accessGrant, person, role, rolePermission } from "../db/schema/index.ts";

/** A person with what they hold, as every decision needs them. */
export interface Person extends Holder {
  name: string;
  email: string;
}

/** Loads one person with their grants, in one statement; null when there is no such person. */
export async function loadHolder(db: Queryable, id: string): Promise<Person | null> {
  return (await loadHolders(db, [id])).get(id) ?? null;
}

/** Loads people with their grants, in one statement, by id. */
export async function loadHolders(db: Queryable, ids: readonly string[]): Promise<Map<string, Person>> {
  if (ids.length === 0) return new Map();
  const rows = await db
    .select({
      id: person.id,
      key: person.key,
      name: person.name,
      email: person.email,
      active: person.active,
      grant: accessGrant,
      roleKey: role.key,
      roleName: role.name,
      permission: rolePermission.permission,
    })
    .from(person)
    .leftJoin(accessGrant, eq(accessGrant.personId, person.id))
    .leftJoin(role, eq(role.id, accessGrant.roleId))
    .leftJoin(rolePermission, eq(rolePermission.roleId, role.id))
    .where(inArray(person.id, [...ids]));
  type Growing = Omit<Person, "grants"> & { grants: (Omit<Grant, "permissions"> & { permissions: Held[] })[] };
  const people = new Map<string, Growing>();
  for (const row of rows) {
    const { grant, roleKey, roleName, permission, ...who } = row;
    const known = people.get(row.id) ?? { ...who, grants: [] };
    people.set(row.id, known);
    if (!grant || !roleKey || !roleName) continue;
    let held = known.grants.find((candidate) => candidate.id === grant.id);
    if (!held) {
      const scope = (
        grant.scope === "publication" ? { kind: "publication" } : { kind: grant.scope, id: grant.scopeId }
      ) as Scope;
      const { from, until, publishFrom, publishUntil } = grant;
      held = { id: grant.id, roleKey, roleName, permissions: [], scope, from, until, publishFrom, publishUntil };
      known.grants.push(held);
    }
    if (permission) held.permissions.push(permission as Held);
  }
  return people;
}
