import { and, asc, count, eq, sql } from "drizzle-orm";
import { type Grant, inForce } from "#core/access/decide.ts";
import { type Extent, extentOf, type Held, PERMISSIONS, type Permission, readHeld } from "#core/access/permissions.ts";
import { roleChanged, roleDeleted, roleMade } from "#core/events/people.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { freeKey } from "#core/words/keys.ts";
import { type Administering, changingAccess } from "../access/administer.ts";
import { accessChanged } from "../access/changed.ts";
import { loadEverybody, type Person } from "../access/holders.ts";
import { inReach } from "../access/visible.ts";
import type { Queryable } from "../db/client.ts";
import { newId } from "../db/schema/columns.ts";
import { accessGrant, piece, role, rolePermission } from "../db/schema/index.ts";
import type { Viewer } from "../viewer.ts";
import { type Break, whatBreaks } from "../workflows/breaks.ts";
import { loadPeople } from "../workflows/staff.ts";
import type { Act } from "../write.ts";

/** A role with what it allows and how many hold it now. */
export interface RoleRow {
  key: string;
  name: string;
  permissions: Held[];
  secondFactor: boolean;
  revision: number;
  holders: number;
}

/** Every role anybody can be given, those with most holders first. */
export async function listRoles(db: Queryable, now: number): Promise<RoleRow[]> {
  const [rows, everybody] = await Promise.all([
    db
      .select({ role, permission: rolePermission.permission })
      .from(role)
      .leftJoin(rolePermission, eq(rolePermission.roleId, role.id))
      .where(eq(role.fixed, false))
      .orderBy(asc(role.name)),
    loadEverybody(db),
  ]);
  const holders = new Map<string, number>();
  for (const one of everybody.values())
    for (const key of new Set(one.grants.filter((grant) => inForce(grant, now)).map((grant) => grant.roleKey)))
      holders.set(key, (holders.get(key) ?? 0) + 1);
  const roles = new Map<string, RoleRow>();
  for (const { role: row, permission } of rows) {
    const { key, name, secondFactor, revision } = row;
    const known = roles.get(key) ?? {
      key,
      name,
      secondFactor,
      revision,
      permissions: [],
      holders: holders.get(key) ?? 0,
    };
    roles.set(key, known);
    if (permission) known.permissions.push(permission as Held);
  }
  return [...roles.values()];
}

/** A role as it is to be. */
export interface RoleChange {
  key: string;
  name: string;
  permissions: readonly string[];
  secondFactor: boolean;
  /** The revision the person saw. */
  revision: number;
}

/** Changes what a role allows. What every holder may do changes with it, at once. */
export function saveRole(act: Act, wanted: RoleChange): Promise<Result<null>> {
  return changingAccess(act, async (change) => {
    const { tx } = change;
    const held = readHeld(wanted.permissions);
    if (!held) return refuse({ code: "unknown-permission", sentence: "Something in it is no permission." });
    const found = await lockRole(change, wanted.key);
    if (!found.ok) return found;
    const before = found.value;
    if (before.revision !== wanted.revision)
      return refuse({
        code: "stale",
        sentence: `${before.name} was changed meanwhile. Look at it as it is now; what you chose is still marked.`,
      });
    if (await nameTaken(change, wanted.name, before.id)) return refuse(TAKEN);
    const was = await permissionsOf(change, before.id);
    await tx
      .update(role)
      .set({ name: wanted.name, secondFactor: wanted.secondFactor, revision: before.revision + 1 })
      .where(eq(role.id, before.id));
    await tx.delete(rolePermission).where(eq(rolePermission.roleId, before.id));
    if (held.length > 0)
      await tx.insert(rolePermission).values(held.map((permission) => ({ roleId: before.id, permission })));
    change.happened(
      roleChanged,
      { name: wanted.name, secondFactor: wanted.secondFactor, permissions: held },
      { subjectId: before.id, before: { name: before.name, secondFactor: before.secondFactor, permissions: was } },
    );
    const everybody = [...(await loadEverybody(tx)).values()];
    const holding = everybody.filter((one) => one.grants.some((grant) => grant.roleKey === wanted.key));
    await accessChanged(
      change,
      holding.map((one) => one.id),
    );
    return accept(null);
  });
}

/** Makes a role, as a copy of another where `from` names one. @returns its key */
export function addRole(act: Act, wanted: { name: string; from: string | null }): Promise<Result<{ key: string }>> {
  return changingAccess(act, async (change) => {
    const { tx } = change;
    if (await nameTaken(change, wanted.name, "")) return refuse(TAKEN);
    const model = wanted.from ? await lockRole(change, wanted.from) : null;
    if (model && !model.ok) return model;
    const held = model ? await permissionsOf(change, model.value.id) : [];
    const id = newId();
    const key = freeKey(wanted.name, await tx.select({ key: role.key }).from(role), "role");
    await tx.insert(role).values({ id, key, name: wanted.name, secondFactor: model?.value.secondFactor ?? false });
    if (held.length > 0) await tx.insert(rolePermission).values(held.map((permission) => ({ roleId: id, permission })));
    change.happened(roleMade, { name: wanted.name, permissions: held }, { subjectId: id });
    return accept({ key });
  });
}

/** Does away with a role nobody was ever given. */
export function deleteRole(act: Act, key: string): Promise<Result<null>> {
  return changingAccess(act, async (change) => {
    const { tx } = change;
    const found = await lockRole(change, key);
    if (!found.ok) return found;
    const { id, name } = found.value;
    const [held] = await tx.select({ grants: count() }).from(accessGrant).where(eq(accessGrant.roleId, id));
    if (held?.grants)
      return refuse({
        code: "in-use",
        sentence: `${name} was given to somebody and stays on their record. Take its permissions away instead.`,
      });
    const people = await loadPeople(tx, change.now);
    const without = { ...people, roles: people.roles.filter((one) => one.key !== key) };
    const broken = await whatBreaks(tx, people, without);
    if (broken.length > 0)
      return refuse({
        code: "in-use",
        sentence: `Workflows name ${name}.`,
        missing: broken.map((one) => `${one.workflow}: ${one.sentence}`),
      });
    const was = await permissionsOf(change, id);
    await tx.delete(rolePermission).where(eq(rolePermission.roleId, id));
    await tx.delete(role).where(eq(role.id, id));
    change.happened(roleDeleted, {}, { subjectId: id, before: { name, permissions: was } });
    return accept(null);
  });
}

/** Somebody whose reach changes, and on how many of the pieces there are. */
export interface Shift {
  person: { key: string; name: string };
  permission: Permission;
  /** How far they may before and after, everywhere taken together. */
  before: Extent;
  after: Extent;
  /** Pieces gained and lost; null for what concerns no piece. */
  gained: number | null;
  lost: number | null;
}

/** What a change of a role would do: who gains and loses what, and what it breaks in workflows. */
export interface RolePreview {
  shifts: Shift[];
  /** People beyond those counted one by one. */
  more: number;
  breaks: Break[];
}

const COUNTED = 40;
const ABOUT_PIECES = (permission: Permission) => permission.startsWith("piece.") && permission !== "piece.create";

/** Works out what a change of a role would do; nothing is written. */
export async function previewRole(
  db: Queryable,
  viewer: Viewer,
  key: string,
  wanted: readonly Held[],
): Promise<RolePreview> {
  const everybody = [...(await loadEverybody(db)).values()];
  const holders = everybody.filter((one) =>
    one.grants.some((grant) => grant.roleKey === key && inForce(grant, viewer.now)),
  );
  const changed = (one: Person): Person => ({
    ...one,
    grants: one.grants.map((grant) => withPermissions(grant, key, wanted)),
  });
  const counted = holders.slice(0, COUNTED);
  const shifts: Shift[] = [];
  for (const permission of Object.keys(PERMISSIONS) as Permission[]) {
    const moved = counted
      .map((one) => ({ one, after: changed(one) }))
      .filter(({ one, after }) => heldBy(one, key, permission) !== heldBy(after, key, permission));
    if (moved.length === 0) continue;
    const counts = ABOUT_PIECES(permission) ? await countShifts(db, viewer, permission, moved) : [];
    for (const [i, { one, after: changed }] of moved.entries()) {
      const [before, after] = [widest(one, permission, viewer.now), widest(changed, permission, viewer.now)];
      const pieces = counts[i] ?? { gained: null, lost: null };
      if (before !== after || pieces.gained || pieces.lost)
        shifts.push({ person: { key: one.key, name: one.name }, permission, before, after, ...pieces });
    }
  }
  const people = await loadPeople(db, viewer.now);
  const roles = people.roles.map((one) => (one.key === key ? { ...one, permissions: [...wanted] } : one));
  return { shifts, more: holders.length - counted.length, breaks: await whatBreaks(db, people, { ...people, roles }) };
}

const withPermissions = <G extends Grant>(grant: G, key: string, permissions: readonly Held[]): G =>
  grant.roleKey === key ? { ...grant, permissions } : grant;

const heldBy = (one: Person, key: string, permission: Permission) =>
  extentOf(one.grants.find((grant) => grant.roleKey === key)?.permissions ?? [], permission);

/** How far a person may at best, by any grant in force. */
function widest(one: Person, permission: Permission, now: number): Extent {
  const extents = one.grants
    .filter((grant) => inForce(grant, now))
    .map((grant) => extentOf(grant.permissions, permission));
  return extents.includes("yes") ? "yes" : extents.includes("own") ? "own" : "no";
}

/** One statement for a permission, however many people: two sums for each. */
async function countShifts(
  db: Queryable,
  { places, now }: Viewer,
  permission: Permission,
  moved: readonly { one: Person; after: Person }[],
): Promise<{ gained: number; lost: number }[]> {
  const sums = moved.flatMap(({ one, after: changed }, i) => {
    const before = sql`COALESCE(${inReach(one, permission, places, now)}, FALSE)`;
    const after = sql`COALESCE(${inReach(changed, permission, places, now)}, FALSE)`;
    return [
      [`gained${i}`, sql<number>`SUM(${after} AND NOT ${before})`],
      [`lost${i}`, sql<number>`SUM(${before} AND NOT ${after})`],
    ] as const;
  });
  const [row] = await db.select(Object.fromEntries(sums)).from(piece).where(sql`${piece.deletedAt} IS NULL`);
  const sum = (name: string) => Number((row as Record<string, unknown> | undefined)?.[name] ?? 0);
  return moved.map((_, i) => ({ gained: sum(`gained${i}`), lost: sum(`lost${i}`) }));
}

const TAKEN = { code: "taken", field: "name", sentence: "There is a role of that name." };

async function lockRole({ tx }: Administering, key: string): Promise<Result<typeof role.$inferSelect>> {
  const [row] = await tx
    .select()
    .from(role)
    .where(and(eq(role.key, key), eq(role.fixed, false)))
    .for("update");
  return row ? accept(row) : refuse({ code: "not-found", sentence: "There is no such role." });
}

async function nameTaken({ tx }: Administering, name: string, but: string): Promise<boolean> {
  const [row] = await tx.select({ id: role.id }).from(role).where(eq(role.name, name));
  return row !== undefined && row.id !== but;
}

async function permissionsOf({ tx }: Administering, roleId: string): Promise<Held[]> {
  const rows = await tx.select().from(rolePermission).where(eq(rolePermission.roleId, roleId));
  return rows.map((row) => row.permission as Held).sort();
}
