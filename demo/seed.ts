import { eq, lt, sql } from "drizzle-orm";
import { SITE } from "#core/release/channel.ts";
import { WEEKDAYS } from "#core/time/calendar.ts";
import { fromLocalInput, localDate } from "#core/time/local.ts";
import type { Database } from "#server/db/client.ts";
import { newId } from "#server/db/schema/columns.ts";
import {
  absence,
  accessGrant,
  clock,
  groupMember,
  kind,
  notice,
  outbox,
  person,
  personGroup,
  publication,
  role,
  rolePermission,
  section,
  task,
  workflow,
} from "#server/db/schema/index.ts";
import { setTarget } from "#server/flow/targets.ts";
import { hashPassword } from "#server/people/passwords.ts";
import { channelInput, saveChannel } from "#server/release/channel-changes.ts";

import { putInUse } from "#server/workflows/adopt.ts";
import { bindWorkflow } from "#server/workflows/bindings.ts";
import { startCopy } from "#server/workflows/copies.ts";
import type { Act } from "#server/write.ts";
import { fillAssistant } from "./assist.ts";
import { done } from "./done.ts";
import { gather } from "./editions.ts";
import { fillIntake } from "./intake.ts";
import { drawPictures } from "./pictures.ts";
import { layRules } from "./rules.ts";
import {
  calendar,
  DEMO_PASSWORD,
  groups,
  kinds,
  people,
  roles,
  sections,
  workflowSource,
  workflows,
} from "./setting.ts";
import { slip } from "./slips.ts";
import { tellTheYear } from "./stories.ts";

const DAY = 86_400_000;

interface Seeding {
  baseUrl: string;
  /** The folder in which files are kept. */
  files: string;
  /** The instant at which the demo begins, ISO 8601; the machine's clock when absent. */
  start?: string | undefined;
  /** Without the year's pieces: people, sections, kinds and workflows only. */
  bare?: boolean;
}

/** Lays down the demo once: a publication that already has people is left as it is. */
export async function seedDemo(db: Database, seeding: Seeding): Promise<void> {
  const [someone] = await db.select({ id: person.id }).from(person).limit(1);
  if (someone) return;
  const now = seeding.start ? Date.parse(seeding.start) : Date.now();
  if (seeding.start) await db.insert(clock).values({ id: 1, ahead: now - Date.now() });
  const ids = await layDownSetting(db, now);
  const act: Act = {
    db,
    personId: ids.person("ilda"),
    now: now - 330 * DAY,
    origin: "demo",
    requestId: "demo",
    baseUrl: seeding.baseUrl,
    files: seeding.files,
    proven: true,
  };
  for (const key of workflows) await putWorkflowInUse(act, workflowSource(key));
  await bindAll(db, act, ids.section);
  if (seeding.bare) return;
  await tellTheYear(db, {
    now,
    baseUrl: seeding.baseUrl,
    files: seeding.files,
    pictures: await drawPictures(),
    ...ids,
  });
  const as = (who: string, at: number) => ({ ...act, personId: ids.person(who), now: at });
  await slip(db, as, now);
  await gather(db, as, ids, now);
  await layRules(db, as, now);
  await fillIntake(db, as, ids, now);
  await fillAssistant(db, as, ids, now);
  await layTargets(as, ids, now);
  await quieten(db, now);
  await saveChannel({ ...act, now }, readerSite(calendar.closed, ids.section, ids.kind));
}

/** What is to reach readers this autumn and winter; one period is past. */
async function layTargets(
  act: (who: string, at: number) => Act,
  ids: { section(key: string): string; kind(key: string): string },
  now: number,
): Promise<void> {
  const day = (days: number) => localDate(now + days * DAY, calendar.timeZone);
  const guides = { kindId: ids.kind("route-guide"), sectionId: null, channel: null, share: false };
  const set = async (at: number, wanted: Parameters<typeof setTarget>[1]) =>
    done(await setTarget(act("ilda", at), wanted));
  await set(now - 120 * DAY, {
    ...guides,
    name: "Eight guides before the autumn",
    wanted: 8,
    from: day(-118),
    until: day(-60),
  });
  await set(now - 50 * DAY, {
    ...guides,
    name: "Thirty guides before the snow",
    wanted: 30,
    from: day(-50),
    until: day(20),
  });
  const huts = { kindId: null, channel: null, sectionId: ids.section("huts"), wanted: 8, share: false };
  await set(now - 20 * DAY, { ...huts, name: "Eight hut pages for the winter", from: day(-20), until: day(40) });
  const all = { kindId: null, channel: null, sectionId: null, wanted: 85, share: true };
  await set(now - 24 * DAY, { ...all, name: "85 of 100 in time this month", from: day(-24), until: day(8) });
}

/** The reader site: nothing leaves at night, Winter and the Bulletin have their rhythm, and three a day are enough. */
const readerSite = (closed: readonly string[], section: (key: string) => string, kind: (key: string) => string) =>
  channelInput.parse({
    key: SITE,
    name: "Reader site",
    windows: {
      format: "elenco.windows/1",
      zone: calendar.timeZone,
      open: [{ days: [...WEEKDAYS], from: "05:00", until: "24:00" }],
      closed,
    },
    lookout: {
      perDay: 3,
      rhythms: [
        { of: "section", id: section("winter"), days: 10 },
        { of: "kind", id: kind("bulletin-item"), days: 7 },
      ],
    },
    revision: 0,
  });

async function layDownSetting(db: Database, now: number) {
  const personIds = new Map(people.map((one) => [one.key, newId()]));
  const sectionIds = new Map<string, string>();
  const kindIds = new Map(kinds.map((one) => [one.key, newId()]));
  const roleIds = new Map(roles.map((one) => [one.key, newId()]));
  const id = (map: Map<string, string>) => (key: string) => {
    const found = map.get(key);
    if (!found) throw new Error(`the demo has no ${key}`);
    return found;
  };
  const passwordHash = await hashPassword(DEMO_PASSWORD);
  const day = (offset: number) => localDate(now + offset * DAY, calendar.timeZone);

  await db.insert(publication).values({ id: newId(), name: "Fontelba Trails", calendar });
  await db.insert(kind).values(kinds.map((one) => ({ id: id(kindIds)(one.key), ...one })));
  await db.insert(role).values(roles.map(({ key, name }) => ({ id: id(roleIds)(key), key, name })));
  await db
    .insert(rolePermission)
    .values(
      roles.flatMap((one) => one.permissions.map((permission) => ({ roleId: id(roleIds)(one.key), permission }))),
    );
  for (const [position, one] of sections.entries()) {
    const parent = newId();
    sectionIds.set(one.key, parent);
    await db.insert(section).values({ id: parent, key: one.key, name: one.name, position });
    for (const [place, child] of (one.below ?? []).entries()) {
      sectionIds.set(child.key, newId());
      await db
        .insert(section)
        .values({ id: id(sectionIds)(child.key), key: child.key, name: child.name, parentId: parent, position: place });
    }
  }
  for (const one of people)
    await db.insert(person).values({
      id: id(personIds)(one.key),
      key: one.key,
      name: one.name,
      email: `${one.key}@fontelba.example`,
      passwordHash,
    });
  for (const one of people.filter((candidate) => candidate.standIn)) {
    await db
      .update(person)
      .set({ standInId: id(personIds)(one.standIn as string) })
      .where(eq(person.id, id(personIds)(one.key)));
  }
  const scoped = (held: string) => {
    const [roleKey, at] = held.split("@") as [string, string | undefined];
    const scope = at
      ? { scope: "section" as const, scopeId: id(sectionIds)(at) }
      : { scope: "publication" as const, scopeId: null };
    return { id: newId(), roleId: id(roleIds)(roleKey), ...scope };
  };
  const midnight = (days: number) => fromLocalInput(`${day(days)}T00:00`, calendar.timeZone);
  for (const one of people) {
    const personId = id(personIds)(one.key);
    for (const held of one.holds) await db.insert(accessGrant).values({ personId, ...scoped(held) });
    if (!one.soon) continue;
    const { holds, from, until } = one.soon;
    const period = { from: midnight(from), until: midnight(until) };
    await db.insert(accessGrant).values({ personId, ...scoped(holds), ...period });
  }
  for (const { key, name, members, holds } of groups) {
    const groupId = newId();
    await db.insert(personGroup).values({ id: groupId, key, name });
    await db.insert(groupMember).values(members.map((member) => ({ groupId, personId: id(personIds)(member) })));
    await db.insert(accessGrant).values({ groupId, ...scoped(holds) });
  }
  const away = [
    ["ansel", -2, 4],
    ["dario", 9, 15],
    ["gus", 20, 27],
  ] as const;
  await db.insert(absence).values(
    away.map(([key, from, until]) => ({
      id: newId(),
      personId: id(personIds)(key),
      from: day(from),
      until: day(until),
    })),
  );
  return { person: id(personIds), section: id(sectionIds), kind: id(kindIds) };
}

/**
 * Puts a workflow document in use, acknowledging what the checker warns of.
 *
 * @throws Error when it cannot be used
 */
export async function putWorkflowInUse(act: Act, source: string): Promise<string> {
  const begun = await startCopy(act, { from: "file", source });
  if (!begun.ok) throw new Error(`${begun.refusal.sentence} ${begun.refusal.missing?.join("; ")}`);
  const { key } = begun.value;
  const use = (acknowledged: string[]) =>
    putInUse(act, { key, revision: 1, choices: { states: {}, pieces: {} }, acknowledged, at: null });
  const first = await use([]);
  const done = !first.ok && first.refusal.code === "unacknowledged" ? await use(first.refusal.keys ?? []) : first;
  if (!done.ok) throw new Error(`${key}: ${done.refusal.sentence} ${done.refusal.missing?.join("; ")}`);
  return key;
}

async function bindAll(db: Database, act: Act, sectionId: (key: string) => string): Promise<void> {
  const rows = await db.select({ id: workflow.id, key: workflow.key }).from(workflow);
  const [home] = await db.select({ id: publication.id }).from(publication);
  const bind = (scope: "publication" | "section", scopeId: string, key: string) =>
    bindWorkflow(act, { scope, scopeId, workflowId: rows.find((row) => row.key === key)?.id ?? null });
  await bind("publication", home?.id ?? "", "straight-out");
  for (const one of sections) if (one.workflow) await bind("section", sectionId(one.key), one.workflow);
}

/** The past year's mail has long been delivered and its notices read; only the last days' are fresh. */
async function quieten(db: Database, now: number): Promise<void> {
  await db
    .update(notice)
    .set({ readAt: sql`${notice.at}` })
    .where(lt(notice.at, now - 2 * DAY));
  await db.update(outbox).set({ status: "sent", sentAt: now, attempts: 1 });
  await db.delete(task).where(eq(task.kind, "mail"));
}
