import { eq } from "drizzle-orm";
import { can, type Holder, inForce, PUBLICATION } from "#core/access/decide.ts";
import type { People } from "#core/people/document.ts";
import { loadHolders } from "../access/holders.ts";
import type { Queryable } from "../db/client.ts";
import { absence, person, role, rolePermission } from "../db/schema/index.ts";

/** Whether a person may configure workflows. */
export const mayConfigure = (who: Holder, now: number) => can(who, "workflow.edit", PUBLICATION, now).allowed;

/**
 * Everybody who works here as the checker and the rehearsal see them: each with the roles of the
 * grants in force now, wherever these hold, so a role held in one section counts as there.
 */
export async function loadPeople(db: Queryable, now: number): Promise<People> {
  const [roles, permissions, people, absences] = await Promise.all([
    db
      .select({ id: role.id, key: role.key, name: role.name })
      .from(role)
      .where(eq(role.fixed, false))
      .orderBy(role.name),
    db.select().from(rolePermission),
    db
      .select({ id: person.id, key: person.key, name: person.name, active: person.active, standInId: person.standInId })
      .from(person)
      .where(eq(person.guest, false))
      .orderBy(person.name),
    db
      .select({ key: person.key, from: absence.from, until: absence.until })
      .from(absence)
      .innerJoin(person, eq(person.id, absence.personId)),
  ]);
  const holders = await loadHolders(
    db,
    people.map((one) => one.id),
  );
  const keys = new Map(people.map((one) => [one.id, one.key]));
  return {
    format: "elenco.people/1",
    roles: roles.map(({ id, key, name }) => ({
      key,
      name,
      permissions: permissions.filter((one) => one.roleId === id).map((one) => one.permission),
    })),
    people: people.map(({ id, key, name, active, standInId }) => {
      const grants = (holders.get(id)?.grants ?? []).filter((grant) => inForce(grant, now));
      const standIn = standInId ? keys.get(standInId) : undefined;
      const away = absences.filter((one) => one.key === key).map(({ from, until }) => ({ from, until }));
      return {
        key,
        name,
        active,
        roles: [...new Set(grants.map((grant) => grant.roleKey))],
        ...(standIn && { standIn }),
        ...(away.length > 0 && { away }),
      };
    }),
  };
}
