import { and, eq, inArray, or, type SQL, sql } from "drizzle-orm";
import { z } from "zod";
import { can, inForce, type Target } from "#core/access/decide.ts";
import { type IntakeAct, whyNot } from "#core/intake/item.ts";
import { type Refusal, type Result, refuse } from "#core/refusal.ts";
import { below, lineage } from "#core/sections/tree.ts";
import { due } from "#core/time/due.ts";
import { loadHolder, type Person } from "../access/holders.ts";
import { colleague, notGranted, whoMay } from "../access/who.ts";
import type { Queryable } from "../db/client.ts";
import { intakeItem, kind, section } from "../db/schema/index.ts";
import { loadPlaces, type Places } from "../sections/places.ts";
import type { Viewer } from "../viewer.ts";
import { type Act, type Change, write } from "../write.ts";

/** A row of what came in. */
export type Item = typeof intakeItem.$inferSelect;

/** What a command on something that came in takes: which one, and its revision as the person saw it. */
export const onItem = { itemId: z.uuid(), revision: z.coerce.number().int() };

/** Where something that came in belongs; the whole publication where nobody has said. */
export const targetOf = (places: Places, item: Pick<Item, "sectionId" | "kindId">): Target => ({
  sectionIds: item.sectionId === null ? [] : lineage(places, item.sectionId).map((one) => one.id),
  kindId: item.kindId,
  piece: null,
});

/**
 * Whether somebody judges something that came in: it was given to them, or a role of theirs lets them judge where
 * it belongs; what belongs nowhere yet is judged by whoever judges anywhere.
 */
export function judges(
  who: Person,
  item: Pick<Item, "sectionId" | "kindId" | "holderId">,
  places: Places,
  now: number,
): boolean {
  if (item.holderId === who.id) return true;
  if (item.sectionId !== null) return can(who, "intake.judge", targetOf(places, item), now).allowed;
  return judgesAnywhere(who, now);
}

/** Whether somebody judges what comes in, in any part of the publication. */
export const judgesAnywhere = (who: Person, now: number) =>
  who.grants.some((grant) => inForce(grant, now) && grant.permissions.includes("intake.judge"));

/** Whether somebody works here now: ideas are everybody's, and so is the intake. */
export const hasIntake = (who: Person, now: number) =>
  who.active && !who.guest && who.grants.some((grant) => inForce(grant, now));

/** The SQL condition under which a viewer sees something that came in: what `judges` says, ideas, and what is their own. */
export function itemsSeen(viewer: Viewer): SQL {
  const { now, places } = viewer;
  const open = sql`${intakeItem.standing} <> 'unconfirmed'`;
  const ways: SQL[] = [eq(intakeItem.holderId, viewer.id), eq(intakeItem.byId, viewer.id)];
  if (hasIntake(viewer, viewer.now)) ways.push(eq(intakeItem.sort, "idea"));
  if (judgesAnywhere(viewer, now)) ways.push(sql`${intakeItem.sectionId} IS NULL`);
  for (const grant of viewer.grants) {
    const { scope, permissions, publishFrom, publishUntil } = grant;
    const holds = inForce(grant, now) && permissions.includes("intake.judge");
    // What came in has no publish date yet: a grant for some dates does not reach it.
    if (!holds || publishFrom !== null || publishUntil !== null) continue;
    if (scope.kind === "publication") ways.push(sql`TRUE`);
    if (scope.kind === "section") ways.push(inArray(intakeItem.sectionId, below(places, scope.id)));
    if (scope.kind === "kind") ways.push(eq(intakeItem.kindId, scope.id));
  }
  const through = viewer.seenBy ? itemsSeen({ ...viewer, ...viewer.seenBy, seenBy: undefined }) : undefined;
  return and(open, or(...ways), through) as SQL;
}

/** Who is told that something came in or changed: whom it was given to, else, or if they left, everybody who judges there. */
export async function judgesOf(
  db: Queryable,
  item: Pick<Item, "sectionId" | "kindId" | "holderId">,
  places: Places,
  now: number,
): Promise<string[]> {
  const holder = item.holderId === null ? null : await loadHolder(db, item.holderId);
  if (holder && hasIntake(holder, now)) return [holder.id];
  return (await whoMay(db, "intake.judge", targetOf(places, item), now)).map((one) => one.id);
}

/** What of where something is to belong, and of who is to see to it, is not there; null where all is. */
export async function whatIsAmiss(
  db: Queryable,
  { kindId, sectionId, holderId }: Pick<Item, "kindId" | "sectionId" | "holderId">,
): Promise<Refusal | null> {
  if (kindId !== null && !(await db.$count(kind, eq(kind.id, kindId))))
    return { code: "unknown-kind", field: "kindId", sentence: "There is no such kind of piece." };
  if (sectionId !== null && !(await db.$count(section, eq(section.id, sectionId))))
    return { code: "unknown-section", field: "sectionId", sentence: "There is no such section." };
  const found = holderId === null ? null : await colleague(db, holderId, "holderId");
  return found === null || found.ok ? null : found.refusal;
}

/** By when the team answers what comes in now; null where it promises nothing, or its calendar never opens. @param promise working time */
export function answeredBy({ calendar }: Places, promise: string | null, now: number): number | null {
  if (promise === null) return null;
  try {
    return due(calendar, now, promise);
  } catch (error) {
    if (error instanceof RangeError) return null;
    throw error;
  }
}

/** A write of somebody who judges something that came in, on it as they saw it. */
export type Judging = Change & { actor: Person; places: Places };

/**
 * A write of whoever judges something that came in. Of two who do the same at once the second is told what the
 * first did.
 */
export function judging<T>(
  act: Act,
  { itemId, revision }: { itemId: string; revision: number },
  what: IntakeAct,
  work: (change: Judging, item: Item) => Promise<Result<T>>,
): Promise<Result<T>> {
  return write<T>(act, async (change) => {
    const { tx, actor, now } = change;
    const [item] = await tx.select().from(intakeItem).where(eq(intakeItem.id, itemId)).for("update");
    const places = await loadPlaces(tx);
    // Everybody has a word on ideas; what else comes in is for who judges.
    const everybodys = what === "judge" || what === "outline";
    const seen = item && actor && (judges(actor, item, places, now) || item.byId === actor.id || item.sort === "idea");
    if (!item || !actor || !seen || item.standing === "unconfirmed" || !hasIntake(actor, now))
      return refuse({ code: "not-found", sentence: "There is no such thing." });
    if (!everybodys && !judges(actor, item, places, now)) {
      const sentence = "No role of yours lets you judge what comes in here.";
      return notGranted(tx, "intake.judge", targetOf(places, item), now, sentence);
    }
    const settled = whyNot(what, item);
    if (settled !== null) return refuse({ code: "settled", sentence: settled });
    if (item.revision !== revision && !everybodys)
      return refuse({ code: "stale", sentence: "It changed meanwhile. Look at it as it is now, and say it again." });
    return work({ ...change, actor, places }, item);
  });
}

/** Changes something that came in; whoever saw it before is told that it changed. */
export async function change({ tx }: Change, { id, revision }: Item, more: Partial<Item>): Promise<void> {
  await tx
    .update(intakeItem)
    .set({ ...more, revision: revision + 1 })
    .where(eq(intakeItem.id, id));
}
