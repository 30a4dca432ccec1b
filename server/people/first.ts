import { createHmac, timingSafeEqual } from "node:crypto";
import { eq } from "drizzle-orm";
import { READY_ROLES } from "#core/access/permissions.ts";
import { publicationBegun } from "#core/events/places.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import type { Calendar } from "#core/time/calendar.ts";
import { calendarSchema } from "#core/time/calendar-format.ts";
import { freeKey } from "#core/words/keys.ts";
import type { Database, Queryable } from "../db/client.ts";
import { newId } from "../db/schema/columns.ts";
import { accessGrant, ledgerTail, person, publication, role, rolePermission } from "../db/schema/index.ts";
import { type Act, write } from "../write.ts";
import { hashPassword, refusePassword } from "./passwords.ts";

/** So that of several nodes that start at once only one lays it down. */
const PUBLICATION_ID = "01940000-0000-7000-8000-000000000002";
const HOURS: [string, string][] = [["09:00", "17:00"]];
const CALENDAR: Calendar = {
  timeZone: "UTC",
  week: { mon: HOURS, tue: HOURS, wed: HOURS, thu: HOURS, fri: HOURS },
  closed: [],
  special: [],
};

/** Lays down a publication where there is none, to be named at the first start. */
export async function ensurePublication(db: Database): Promise<void> {
  const [found] = await db.select({ id: publication.id }).from(publication).limit(1);
  if (!found) await db.insert(publication).ignore().values({ id: PUBLICATION_ID, name: "Elenco", calendar: CALENDAR });
}

/** Whether nobody is here yet. */
export async function isFirstStart(db: Queryable): Promise<boolean> {
  const [someone] = await db.select({ id: person.id }).from(person).limit(1);
  return someone === undefined;
}

/**
 * The secret of the link by which the first managing editor sets themselves up. It follows from the
 * installation's key, so that every node prints the same, and opens nothing once somebody is here.
 */
export const firstSecret = () =>
  createHmac("sha256", process.env.SESSION_SECRET ?? "")
    .update("first start")
    .digest("base64url");

/** Whether a link is the one printed, and still opens something. */
export async function opensFirstStart(db: Queryable, secret: string): Promise<boolean> {
  const [given, right] = [Buffer.from(secret), Buffer.from(firstSecret())];
  return given.length === right.length && timingSafeEqual(given, right) && isFirstStart(db);
}

/** What the first managing editor fills in. */
export interface Beginning {
  secret: string;
  publication: string;
  timeZone: string;
  name: string;
  email: string;
  password: string;
}

/** Names the publication, lays down the ready-made roles, and makes the first managing editor. @returns who that is */
export async function beginPublication(act: Act, wanted: Beginning): Promise<Result<string>> {
  const weak = refusePassword(wanted.password, [wanted.name, wanted.email, wanted.publication]);
  if (weak) return refuse(weak);
  const calendar = calendarSchema.safeParse({ ...CALENDAR, timeZone: wanted.timeZone });
  if (!calendar.success)
    return refuse({ code: "bad-zone", field: "timeZone", sentence: "A time zone as in Europe/Rome." });
  const passwordHash = await hashPassword(wanted.password);
  return write<string>({ ...act, personId: null }, async (change) => {
    const { tx, now } = change;
    // Two who hold the link go one after the other; the second finds somebody here.
    await tx.select().from(ledgerTail).where(eq(ledgerTail.id, 1)).for("update");
    if (!(await opensFirstStart(tx, wanted.secret)))
      return refuse({ code: "link-over", sentence: "Somebody has set this publication up already." });
    await tx.update(publication).set({ name: wanted.publication, calendar: calendar.data });
    const roles = READY_ROLES.map((one) => ({ id: newId(), ...one }));
    await tx.insert(role).values(roles.map(({ id, key, name }) => ({ id, key, name })));
    await tx
      .insert(rolePermission)
      .values(roles.flatMap(({ id, permissions }) => permissions.map((permission) => ({ roleId: id, permission }))));
    const id = newId();
    const { name, email } = wanted;
    const key = freeKey(name.split(" ")[0] ?? name, [], "person");
    await tx.insert(person).values({ id, key, name, email: email.trim().toLowerCase(), passwordHash, joinedAt: now });
    const chief = roles[0]?.id ?? "";
    await tx.insert(accessGrant).values({ id: newId(), personId: id, roleId: chief, scope: "publication" });
    change.happened(publicationBegun, { publication: wanted.publication, name, email }, { subjectId: id });
    return accept(id);
  });
}
