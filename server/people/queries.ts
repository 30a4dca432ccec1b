import { asc, eq } from "drizzle-orm";
import type { Queryable } from "../db/client.ts";
import { accessGrant, person, role } from "../db/schema/index.ts";

/** The demo's people with their roles, for its sign-in page. */
export async function listDemoPeople(db: Queryable): Promise<{ id: string; name: string; roles: string[] }[]> {
  const rows = await db
    .select({ id: person.id, name: person.name, role: role.name })
    .from(person)
    .leftJoin(accessGrant, eq(accessGrant.personId, person.id))
    .leftJoin(role, eq(role.id, accessGrant.roleId))
    .where(eq(person.active, true))
    .orderBy(asc(person.id));
  const people = new Map<string, { id: string; name: string; roles: string[] }>();
  for (const row of rows) {
    const known = people.get(row.id) ?? { id: row.id, name: row.name, roles: [] };
    if (row.role && !known.roles.includes(row.role)) known.roles.push(row.role);
    people.set(row.id, known);
  }
  return [...people.values()].filter((one) => one.roles.length > 0);
}
