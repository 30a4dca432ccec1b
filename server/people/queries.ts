import { and, asc, eq, gt } from "drizzle-orm";
import { type Grant, inForce } from "#core/access/decide.ts";
import { sayGrant } from "#core/access/explain.ts";
import { overlaps } from "#core/access/overlaps.ts";
import { extentOf, type Permission } from "#core/access/permissions.ts";
import { lineage, pathName } from "#core/sections/tree.ts";
import { localDate } from "#core/time/local.ts";
import { loadEverybody, loadHolder } from "../access/holders.ts";
import { namesFor } from "../access/names.ts";
import type { Queryable } from "../db/client.ts";
import { accountLink, kind, person, role } from "../db/schema/index.ts";
import { awayOn } from "../team/queries.ts";
import type { Viewer } from "../viewer.ts";
import { absencesOf, standInChain } from "./absence.ts";
import { factorsOf } from "./recovery.ts";

/** The demo's people with their roles, for its sign-in page. */
export async function listDemoPeople(db: Queryable): Promise<{ id: string; name: string; roles: string[] }[]> {
  const people = [...(await loadEverybody(db)).values()].sort((a, b) => a.id.localeCompare(b.id));
  return people.flatMap(({ id, name, grants }) =>
    grants.length === 0 ? [] : { id, name, roles: [...new Set(grants.map((grant) => grant.roleName))] },
  );
}

/** A person as the list of people shows them. */
export interface PersonRow {
  key: string;
  name: string;
  email: string;
  active: boolean;
  /** Invited and not here yet. */
  invited: boolean;
  /** What they hold now, in words. */
  holds: string[];
  /** The next end of something they hold; epoch milliseconds. */
  until: number | null;
  /** The last day of the absence they are in, or null. */
  awayUntil: string | null;
  standIn: string | null;
}

/** Everybody who works here, or did: those at work first. */
export async function listPeople(db: Queryable, viewer: Viewer): Promise<PersonRow[]> {
  const today = localDate(viewer.now, viewer.calendar.timeZone);
  const [rows, people, away] = await Promise.all([
    db.select().from(person).where(eq(person.guest, false)).orderBy(asc(person.name)),
    loadEverybody(db),
    awayOn(db, today),
  ]);
  const names = await namesFor(
    db,
    viewer,
    [...people.values()].flatMap((one) => one.grants),
  );
  const byId = new Map(rows.map((row) => [row.id, row]));
  const list = rows.map((row): PersonRow => {
    const grants = (people.get(row.id)?.grants ?? []).filter((grant) => inForce(grant, viewer.now));
    return {
      key: row.key,
      name: row.name,
      email: row.email,
      active: row.active,
      invited: row.active && row.passwordHash === null,
      holds: grants.map((grant) => sayGrant({ ...grant, from: null, until: null }, names)),
      until: earliest(grants),
      awayUntil: away.get(row.id) ?? null,
      standIn: byId.get(row.standInId ?? "")?.name ?? null,
    };
  });
  return [...list.filter((one) => one.active), ...list.filter((one) => !one.active)];
}

function earliest(grants: readonly Grant[]): number | null {
  const ends = grants.flatMap((grant) => grant.until ?? []);
  return ends.length === 0 ? null : Math.min(...ends);
}

/** Something a person or group holds, as their page shows it. */
export interface HeldRow {
  id: string;
  role: string;
  roleKey: string;
  words: string;
  from: number | null;
  until: number | null;
  when: "now" | "later" | "over";
  /** The grant that makes this one idle, in words; null where it adds something. */
  covered: string | null;
  /** Held through a group, by name. */
  group: string | null;
}

/** Everything one person's page shows; null where there is nobody of that key. */
export async function personPage(db: Queryable, viewer: Viewer, key: string) {
  const [row] = await db
    .select()
    .from(person)
    .where(and(eq(person.key, key), eq(person.guest, false)));
  const holder = row && (await loadHolder(db, row.id));
  if (!row || !holder) return null;
  const today = localDate(viewer.now, viewer.calendar.timeZone);
  const [names, absences, chain, factors, [link], [standIn]] = await Promise.all([
    namesFor(db, viewer, holder.grants),
    absencesOf(db, row.id, today),
    standInChain(db, row.id, viewer.now),
    factorsOf(db, row.id),
    db
      .select({ expiresAt: accountLink.expiresAt })
      .from(accountLink)
      .where(
        and(eq(accountLink.personId, row.id), eq(accountLink.purpose, "join"), gt(accountLink.expiresAt, viewer.now)),
      ),
    row.standInId
      ? db.select({ id: person.id, name: person.name }).from(person).where(eq(person.id, row.standInId))
      : [],
  ]);
  return {
    id: row.id,
    key: row.key,
    name: row.name,
    email: row.email,
    active: row.active,
    endedAt: row.endedAt,
    joinedAt: row.joinedAt,
    invited: row.active && row.passwordHash === null,
    invitedUntil: link?.expiresAt ?? null,
    secondFactor: factors.code || factors.passkey,
    hasCode: factors.code,
    holds: heldRows(holder.grants, viewer, names),
    absences,
    awayNow: absences.some((one) => one.from <= today),
    standIn: standIn ?? null,
    chain,
  };
}

export type PersonPage = NonNullable<Awaited<ReturnType<typeof personPage>>>;

/** Grants in words, those in force first, with what adds nothing marked. */
export function heldRows(grants: readonly Grant[], viewer: Viewer, names: Parameters<typeof sayGrant>[1]): HeldRow[] {
  const when = (grant: Grant): HeldRow["when"] =>
    inForce(grant, viewer.now) ? "now" : grant.from !== null && viewer.now < grant.from ? "later" : "over";
  const lasting = grants.filter((grant) => when(grant) !== "over");
  const idle = overlaps(lasting, (id) => lineage(viewer.places, id).map((one) => one.id));
  const order = ["now", "later", "over"];
  return grants
    .map((grant): HeldRow => {
      const by = lasting.find((one) => one.id === idle.find((pair) => pair.idle === grant.id)?.by);
      const { id, roleName, roleKey, from, until, group } = grant;
      const words = sayGrant({ ...grant, from: null, until: null, group: null }, names);
      return {
        id,
        role: roleName,
        roleKey,
        words,
        from,
        until,
        when: when(grant),
        covered: by ? sayGrant(by, names) : null,
        group,
      };
    })
    .sort((a, b) => order.indexOf(a.when) - order.indexOf(b.when) || a.role.localeCompare(b.role));
}

/** Who has a permission now, through what, and whether for their own pieces only. */
export async function whoHas(db: Queryable, viewer: Viewer, permission: Permission) {
  const people = [...(await loadEverybody(db)).values()];
  const having = people.flatMap((one) =>
    one.grants
      .filter((grant) => inForce(grant, viewer.now) && extentOf(grant.permissions, permission) !== "no")
      .map((grant) => ({ one, grant })),
  );
  const names = await namesFor(
    db,
    viewer,
    having.map(({ grant }) => grant),
  );
  return having
    .map(({ one, grant }) => ({
      key: one.key,
      name: one.name,
      grant: grant.id,
      through: sayGrant(grant, names),
      own: extentOf(grant.permissions, permission) === "own",
    }))
    .sort((a, b) => a.name.localeCompare(b.name));
}

/** People who can be chosen, by name, with who is away today. */
export async function choosable(db: Queryable, viewer: Viewer) {
  const [people, away] = await Promise.all([
    loadEverybody(db),
    awayOn(db, localDate(viewer.now, viewer.calendar.timeZone)),
  ]);
  return [...people.values()]
    .map(({ id, key, name }) => ({ id, key, name, away: away.has(id) }))
    .sort((a, b) => a.name.localeCompare(b.name));
}

/** What can be chosen when a role is given. */
export async function grantChoices(db: Queryable, { places }: Viewer) {
  const [roles, kinds] = await Promise.all([
    db.select({ key: role.key, name: role.name }).from(role).where(eq(role.fixed, false)).orderBy(asc(role.name)),
    db.select({ id: kind.id, name: kind.name }).from(kind).orderBy(asc(kind.name)),
  ]);
  const sections = [...places.sections.keys()]
    .map((id) => ({ id, name: pathName(places, id) }))
    .sort((a, b) => a.name.localeCompare(b.name));
  return { roles, kinds, sections };
}
