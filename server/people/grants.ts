import { and, eq, inArray, or } from "drizzle-orm";
import { roleEnded, roleGiven } from "#core/events/people.ts";
import { accept, type Refusal, type Result, refuse } from "#core/refusal.ts";
import { type Administering, changingAccess } from "../access/administer.ts";
import { accessChanged } from "../access/changed.ts";
import type { Queryable } from "../db/client.ts";
import { newId } from "../db/schema/columns.ts";
import { accessGrant, groupMember, kind, person, personGroup, role } from "../db/schema/index.ts";
import { openPiece } from "../piece/open.ts";
import { loadPlaces } from "../sections/places.ts";
import type { Act } from "../write.ts";

/** A role over a scope, for a time and for certain publish dates; null is open. Instants in epoch milliseconds. */
export interface Granting {
  roleKey: string;
  scope: "publication" | "section" | "kind" | "piece";
  scopeId: string | null;
  from: number | null;
  until: number | null;
  publishFrom: number | null;
  publishUntil: number | null;
}

/** Who is given a role: a person, or everybody in a group. */
export type Receiver = { personId: string } | { groupId: string };

/** Gives a role to a person or a group. */
export function grantRole(act: Act, wanted: { to: Receiver; grant: Granting }): Promise<Result<null>> {
  return changingAccess(act, async (change) => {
    const unknown = await refuseReceiver(change, wanted.to);
    return unknown ? refuse(unknown) : giveRole(change, wanted.to, wanted.grant);
  });
}

/** Lays a grant down inside a write that may. @param tells whether the people it reaches hear of it by a notice of its own */
export async function giveRole(
  change: Administering,
  to: Receiver,
  wanted: Granting,
  tells = true,
): Promise<Result<null>> {
  const { tx } = change;
  const backwards = refusePeriods(wanted);
  if (backwards) return refuse(backwards);
  const [held] = await tx
    .select()
    .from(role)
    .where(and(eq(role.key, wanted.roleKey), eq(role.fixed, false)));
  if (!held)
    return refuse({
      code: "unknown-role",
      field: "roleKey",
      sentence: wanted.roleKey === "" ? "Choose a role." : "There is no such role.",
    });
  const unknown = await refuseScope(change, wanted);
  if (unknown) return refuse(unknown);
  const { roleKey: _, ...rest } = wanted;
  const scopeId = wanted.scope === "publication" ? null : wanted.scopeId;
  const id = newId();
  await tx.insert(accessGrant).values({ id, roleId: held.id, ...to, ...rest, scopeId });
  const people = await reached(change, to);
  change.happened(
    roleGiven,
    { grant: id, role: held.name, ...rest },
    { subjectId: subjectOf(to), tell: { holder: tells ? people : [] } },
  );
  await accessChanged(change, people);
  return accept(null);
}

/**
 * Says when a grant ends. One that has not begun by then is taken away; one that is over stays on
 * the person's page.
 *
 * @param until epoch milliseconds; null lets it go on without an end
 */
export function endGrant(act: Act, wanted: { grantId: string; until: number | null }): Promise<Result<null>> {
  return changingAccess(act, async (change) => {
    const { tx } = change;
    const [row] = await tx.select().from(accessGrant).where(eq(accessGrant.id, wanted.grantId)).for("update");
    const [held] = row ? await tx.select().from(role).where(eq(role.id, row.roleId)) : [];
    if (!row || !held || held.fixed) return refuse({ code: "not-found", sentence: "There is no such grant." });
    const until = wanted.until === null ? null : Math.max(wanted.until, change.now);
    if (until !== null && row.from !== null && until <= row.from)
      await tx.delete(accessGrant).where(eq(accessGrant.id, row.id));
    else await tx.update(accessGrant).set({ until }).where(eq(accessGrant.id, row.id));
    const to = row.personId ? { personId: row.personId } : { groupId: row.groupId ?? "" };
    const people = await reached(change, to);
    change.happened(
      roleEnded,
      { grant: row.id, role: held.name, until },
      {
        subjectId: subjectOf(to),
        before: { grant: row.id, role: held.name, until: row.until },
        tell: { holder: people },
      },
    );
    await accessChanged(change, people);
    return accept(null);
  });
}

async function refuseReceiver({ tx }: Administering, to: Receiver): Promise<Refusal | null> {
  const [found] =
    "personId" in to
      ? await tx
          .select({ id: person.id })
          .from(person)
          .where(and(eq(person.id, to.personId), eq(person.active, true), eq(person.guest, false)))
      : await tx.select({ id: personGroup.id }).from(personGroup).where(eq(personGroup.id, to.groupId));
  return found ? null : { code: "not-found", sentence: "There is no such person or group." };
}

function refusePeriods({ from, until, publishFrom, publishUntil }: Granting): Refusal | null {
  if (from !== null && until !== null && until <= from)
    return { code: "empty-period", field: "until", sentence: "It would end before it begins." };
  if (publishFrom !== null && publishUntil !== null && publishUntil <= publishFrom)
    return { code: "empty-period", field: "publishUntil", sentence: "These publish dates end before they begin." };
  return null;
}

async function refuseScope(change: Administering, { scope, scopeId }: Granting): Promise<Refusal | null> {
  if (scope === "publication") return null;
  const missing: Refusal = { code: "unknown-scope", field: "scopeId", sentence: `Choose which ${scope}.` };
  if (scopeId === null) return missing;
  if (scope === "section") return (await loadPlaces(change.tx)).sections.has(scopeId) ? null : missing;
  if (scope === "piece") return (await openPiece(change, scopeId)).ok ? null : missing;
  const [found] = await change.tx.select({ id: kind.id }).from(kind).where(eq(kind.id, scopeId));
  return found ? null : missing;
}

const subjectOf = (to: Receiver) => ("personId" in to ? to.personId : to.groupId);

async function reached({ tx }: Administering, to: Receiver): Promise<string[]> {
  if ("personId" in to) return [to.personId];
  const rows = await tx
    .select({ id: groupMember.personId })
    .from(groupMember)
    .where(eq(groupMember.groupId, to.groupId));
  return rows.map((row) => row.id);
}

/** When what a person holds begins or ends next, after an instant; null where nothing does. */
export async function nextGrantChange(db: Queryable, personId: string, now: number): Promise<number | null> {
  const groups = db.select({ id: groupMember.groupId }).from(groupMember).where(eq(groupMember.personId, personId));
  const rows = await db
    .select({ from: accessGrant.from, until: accessGrant.until })
    .from(accessGrant)
    .where(or(eq(accessGrant.personId, personId), inArray(accessGrant.groupId, groups)));
  const ahead = rows.flatMap((row) => [row.from, row.until]).filter((at) => at !== null && at > now) as number[];
  return ahead.length > 0 ? Math.min(...ahead) : null;
}
