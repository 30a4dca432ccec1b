import { can, type Target } from "#core/access/decide.ts";
import type { Permission } from "#core/access/permissions.ts";
import { accept, type Refusal, type Result, refuse } from "#core/refusal.ts";
import type { Queryable } from "../db/client.ts";
import { loadEverybody, loadHolder, type Person } from "./holders.ts";

/** So many who could are named. */
const NAMED = 5;

/** Everybody at work who may do something to a target, by id and name. */
export async function whoMay(db: Queryable, permission: Permission, target: Target, now: number) {
  return [...(await loadEverybody(db)).values()].filter((one) => can(one, permission, target, now).allowed);
}

/** A refusal of somebody who is no colleague: there is none such, their access ended, or they are a guest. */
export const notHere = (field?: string): Refusal => ({
  code: "unknown-person",
  sentence: "That person does not work here.",
  ...(field && { field }),
});

/** Somebody who works here and is no guest, for whom a form's field asks. */
export async function colleague(db: Queryable, personId: string, field: string): Promise<Result<Person>> {
  const who = await loadHolder(db, personId);
  if (who?.active && !who.guest) return accept(who);
  return refuse(notHere(field));
}

/** A refusal for want of a permission, naming some who have it here. */
export async function notGranted(
  db: Queryable,
  permission: Permission,
  target: Target,
  now: number,
  sentence: string,
  more: Pick<Refusal, "field"> = {},
) {
  const able = (await whoMay(db, permission, target, now)).map((one) => one.name);
  return refuse({ code: "not-granted", sentence, who: able.slice(0, NAMED), ...more });
}
