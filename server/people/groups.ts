import { and, asc, eq, inArray } from "drizzle-orm";
import { groupChanged, groupDeleted, groupMade } from "#core/events/people.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { freeKey } from "#core/words/keys.ts";
import { changingAccess } from "../access/administer.ts";
import { accessChanged } from "../access/changed.ts";
import { asGrant } from "../access/holders.ts";
import { namesFor } from "../access/names.ts";
import type { Queryable } from "../db/client.ts";
import { newId } from "../db/schema/columns.ts";
import { accessGrant, groupMember, person, personGroup, role } from "../db/schema/index.ts";
import type { Viewer } from "../viewer.ts";
import type { Act, Change } from "../write.ts";
import { type HeldRow, heldRows } from "./queries.ts";

/** Several people who are given roles together. */
export interface Group {
  id: string;
  key: string;
  name: string;
  members: { id: string; key: string; name: string }[];
}

/** Every group with who is in it. */
export async function listGroups(db: Queryable): Promise<Group[]> {
  const rows = await db
    .select({ id: personGroup.id, key: personGroup.key, name: personGroup.name, member: person })
    .from(personGroup)
    .leftJoin(groupMember, eq(groupMember.groupId, personGroup.id))
    .leftJoin(person, and(eq(person.id, groupMember.personId), eq(person.active, true)))
    .orderBy(asc(personGroup.name), asc(person.name));
  const groups = new Map<string, Group>();
  for (const { id, key, name, member } of rows) {
    const group = groups.get(id) ?? { id, key, name, members: [] };
    groups.set(id, group);
    if (member) group.members.push({ id: member.id, key: member.key, name: member.name });
  }
  return [...groups.values()];
}

/** What a group is given, in words. */
export async function groupGrants(db: Queryable, viewer: Viewer, groupId: string): Promise<HeldRow[]> {
  const rows = await db
    .select({ grant: accessGrant, role: { key: role.key, name: role.name } })
    .from(accessGrant)
    .innerJoin(role, eq(role.id, accessGrant.roleId))
    .where(eq(accessGrant.groupId, groupId));
  const grants = rows.map(({ grant, role: held }) => asGrant(grant, held.key, held.name, null));
  return heldRows(grants, viewer, await namesFor(db, viewer, grants));
}

/** Makes a group, with nobody in it yet. */
export function addGroup(act: Act, name: string): Promise<Result<{ key: string }>> {
  return changingAccess(act, async (change) => {
    const id = newId();
    const [taken] = await change.tx.select().from(personGroup).where(eq(personGroup.name, name));
    if (taken) return refuse({ code: "taken", field: "name", sentence: "There is a group of that name." });
    const key = freeKey(name, await change.tx.select({ key: personGroup.key }).from(personGroup), "group");
    await change.tx.insert(personGroup).values({ id, key, name });
    change.happened(groupMade, { name }, { subjectId: id });
    return accept({ key });
  });
}

/** Says who is in a group. */
export function setMembers(act: Act, wanted: { groupId: string; members: readonly string[] }): Promise<Result<null>> {
  return changingAccess(act, async (change) => {
    const { tx } = change;
    const [group] = await tx.select().from(personGroup).where(eq(personGroup.id, wanted.groupId)).for("update");
    if (!group) return refuse({ code: "not-found", sentence: "There is no such group." });
    const chosen = [...new Set(wanted.members)];
    const people =
      chosen.length === 0
        ? []
        : await tx
            .select({ id: person.id, name: person.name })
            .from(person)
            .where(and(inArray(person.id, chosen), eq(person.active, true), eq(person.guest, false)));
    if (people.length < chosen.length)
      return refuse({ code: "unknown-person", sentence: "Somebody of these does not work here any more." });
    const before = await membersOf(change, group.id);
    await tx.delete(groupMember).where(eq(groupMember.groupId, group.id));
    if (people.length > 0)
      await tx.insert(groupMember).values(people.map(({ id }) => ({ groupId: group.id, personId: id })));
    change.happened(
      groupChanged,
      { name: group.name, members: people.map((one) => one.name).sort() },
      { subjectId: group.id, before: { name: group.name, members: before.map((one) => one.name) } },
    );
    await accessChanged(
      change,
      [...before, ...people].map((one) => one.id),
    );
    return accept(null);
  });
}

/** Does away with a group; what its people hold through it ends. */
export function deleteGroup(act: Act, groupId: string): Promise<Result<null>> {
  return changingAccess(act, async (change) => {
    const { tx } = change;
    const [group] = await tx.select().from(personGroup).where(eq(personGroup.id, groupId)).for("update");
    if (!group) return refuse({ code: "not-found", sentence: "There is no such group." });
    const members = await membersOf(change, groupId);
    await tx.delete(accessGrant).where(eq(accessGrant.groupId, groupId));
    await tx.delete(groupMember).where(eq(groupMember.groupId, groupId));
    await tx.delete(personGroup).where(eq(personGroup.id, groupId));
    change.happened(
      groupDeleted,
      {},
      { subjectId: groupId, before: { name: group.name, members: members.map((one) => one.name) } },
    );
    await accessChanged(
      change,
      members.map((one) => one.id),
    );
    return accept(null);
  });
}

const membersOf = ({ tx }: Change, groupId: string) =>
  tx
    .select({ id: person.id, name: person.name })
    .from(groupMember)
    .innerJoin(person, eq(person.id, groupMember.personId))
    .where(eq(groupMember.groupId, groupId))
    .orderBy(asc(person.name));
