import { and, eq, gt, isNull, ne } from "drizzle-orm";
import { passwordAsked, passwordChanged, personInvited, personJoined, zoneChosen } from "#core/events/people.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { isZone } from "#core/time/calendar.ts";
import { freeKey } from "#core/words/keys.ts";
import { administering, changingAccess } from "../access/administer.ts";
import type { Queryable } from "../db/client.ts";
import { newId } from "../db/schema/columns.ts";
import { accountLink, person, session } from "../db/schema/index.ts";
import { loadPlaces } from "../sections/places.ts";
import { type Act, type Change, write } from "../write.ts";
import { attempt } from "./attempts.ts";
import { forgetBrowsers } from "./browsers.ts";
import { type Granting, giveRole } from "./grants.ts";
import { tellOwner } from "./letters.ts";
import { hashPassword, refusePassword, refuseWrongPassword } from "./passwords.ts";
import { newSecret, secretId } from "./secrets.ts";
import { provenFrom, raise } from "./sessions.ts";

const HOUR = 3_600_000;
const GOOD_FOR = { join: 7 * 24 * HOUR, password: HOUR };

/**
 * Invites somebody: their account is made, the roles given, and a mail sent with a link that is good
 * once and for a week.
 *
 * @returns the key under which their page stands
 */
export function invite(
  act: Act,
  wanted: { name: string; email: string; grant: Granting | null },
): Promise<Result<{ key: string }>> {
  return changingAccess(act, async (change) => {
    const { tx, actor } = change;
    const email = wanted.email.trim().toLowerCase();
    const name = wanted.name.trim();
    const [taken] = await tx.select().from(person).where(eq(person.email, email));
    if (taken)
      return refuse({ code: "taken", field: "email", sentence: `That address is ${taken.name}’s.`, who: [taken.name] });
    const id = newId();
    const key = freeKey(name.split(" ")[0] ?? name, await tx.select({ key: person.key }).from(person), "person");
    await tx.insert(person).values({ id, key, name, email });
    change.happened(personInvited, { name, email }, { subjectId: id });
    if (wanted.grant) {
      const given = await giveRole(change, { personId: id }, wanted.grant, false);
      if (!given.ok) return given;
    }
    await sendLink(change, { id, name, email }, "join", act.baseUrl, actor.name);
    return accept({ key });
  });
}

/** Sends an invitation once more; the earlier link opens nothing from then on. */
export function inviteAgain(act: Act, personId: string): Promise<Result<null>> {
  return administering(act, "access.edit", async (change) => {
    const { tx, actor } = change;
    const [found] = await tx.select().from(person).where(eq(person.id, personId));
    if (!found?.active || found.guest)
      return refuse({ code: "not-found", sentence: "Nobody of that name works here." });
    if (found.joinedAt !== null || found.passwordHash)
      return refuse({ code: "joined", sentence: `${found.name} has joined already.` });
    change.happened(personInvited, { name: found.name, email: found.email }, { subjectId: personId });
    await sendLink(change, found, "join", act.baseUrl, actor.name);
    return accept(null);
  });
}

/**
 * Sends a link to a new password, where the address is somebody's. The answer is the same, and as
 * quick, where it is nobody's: the letter is written after it.
 */
export async function askNewPassword(act: Act, email: string, address: string): Promise<Result<null>> {
  const account = email.trim().toLowerCase();
  const { refusal } = await attempt(act.db, { letter: account, address }, act.now);
  if (refusal) return refuse(refusal);
  void sendNewPassword(act, account).catch(() => undefined);
  return accept(null);
}

async function sendNewPassword(act: Act, email: string): Promise<void> {
  const [found] = await act.db.select().from(person).where(eq(person.email, email));
  if (!found?.active || found.guest) return;
  await write({ ...act, personId: found.id }, async (change) => {
    change.happened(passwordAsked, {}, { subjectId: found.id });
    await sendLink(change, found, found.passwordHash ? "password" : "join", act.baseUrl, null);
    return accept(null);
  });
}

/** Whose account a link opens, and what for; null when it is unknown, over or used. */
export async function openedBy(db: Queryable, secret: string, now: number) {
  const [row] = await db
    .select({ personId: person.id, name: person.name, email: person.email, purpose: accountLink.purpose })
    .from(accountLink)
    .innerJoin(person, eq(person.id, accountLink.personId))
    .where(
      and(
        eq(accountLink.id, secretId(secret)),
        isNull(accountLink.usedAt),
        gt(accountLink.expiresAt, now),
        eq(person.active, true),
      ),
    );
  return row ?? null;
}

/**
 * Chooses the password a link was sent for. The link is used up, every session of the person ends. A
 * name is chosen only by who joins.
 *
 * @returns whose password it is
 */
export async function choosePassword(
  act: Act,
  wanted: { secret: string; name: string; password: string },
): Promise<Result<string>> {
  const whose = await openedBy(act.db, wanted.secret, act.now);
  const weak = refusePassword(wanted.password, whose ? [whose.name, whose.email, wanted.name] : []);
  if (weak) return refuse(weak);
  const passwordHash = await hashPassword(wanted.password);
  return write<string>({ ...act, personId: null }, async (change) => {
    const { tx, now } = change;
    const opened = await openedBy(tx, wanted.secret, now);
    const used = opened && (await spend(change, wanted.secret));
    if (!opened || !used)
      return refuse({ code: "link-over", sentence: "This link was used, or is too old. Ask for a new one." });
    const { personId, purpose } = opened;
    const name = (purpose === "join" && wanted.name.trim()) || opened.name;
    const [before] = await tx.select().from(person).where(eq(person.id, personId));
    await tx
      .update(person)
      .set({ passwordHash, name, joinedAt: before?.joinedAt ?? now })
      .where(eq(person.id, personId));
    await tx.delete(session).where(eq(session.personId, personId));
    await forgetBrowsers(change, personId);
    if (purpose === "join") change.happened(personJoined, { name }, { subjectId: personId });
    else {
      change.happened(passwordChanged, {}, { subjectId: personId });
      await tellOwner(change, personId, "password", act);
    }
    return accept(personId);
  });
}

/**
 * Changes one's own password, the present one given; every other session ends, and links to a new one
 * open nothing from then on.
 *
 * @returns the session's new secret
 */
export async function changePassword(
  act: Act,
  wanted: { old: string; password: string; session: string },
): Promise<Result<string>> {
  const personId = act.personId ?? "";
  const [own] = await act.db.select().from(person).where(eq(person.id, personId));
  const known = own ? [own.name, own.email] : [];
  const refusal = (await refuseWrongPassword(act, wanted.old)) ?? refusePassword(wanted.password, known);
  if (refusal) return refuse(refusal);
  const passwordHash = await hashPassword(wanted.password);
  return write(act, async (change) => {
    await change.tx.update(person).set({ passwordHash }).where(eq(person.id, personId));
    const others = and(eq(session.personId, personId), ne(session.id, secretId(wanted.session)));
    await change.tx.delete(session).where(others);
    await forgetBrowsers(change, personId);
    await endLinks(change, personId);
    change.happened(passwordChanged, {}, { subjectId: personId });
    await tellOwner(change, personId, "password", act);
    return accept(await raise(change, wanted.session, { provenUntil: provenFrom(change.now) }));
  });
}

/** Marks a link used; false when somebody was quicker. */
async function spend({ tx, now }: Change, secret: string): Promise<boolean> {
  const [{ affectedRows }] = await tx
    .update(accountLink)
    .set({ usedAt: now })
    .where(and(eq(accountLink.id, secretId(secret)), isNull(accountLink.usedAt)));
  return affectedRows > 0;
}

/** Takes back every link sent to a person that was not used. */
async function endLinks({ tx, now }: Change, personId: string): Promise<void> {
  const open = and(eq(accountLink.personId, personId), isNull(accountLink.usedAt));
  await tx.update(accountLink).set({ usedAt: now }).where(open);
}

async function sendLink(
  change: Change,
  to: { id: string; name: string; email: string },
  purpose: "join" | "password",
  baseUrl: string,
  by: string | null,
): Promise<void> {
  const secret = newSecret();
  await endLinks(change, to.id);
  await change.tx
    .insert(accountLink)
    .values({ id: secretId(secret), personId: to.id, purpose, expiresAt: change.now + GOOD_FOR[purpose] });
  const { name: publication } = await loadPlaces(change.tx);
  const first = to.name.split(" ")[0] ?? to.name;
  const words =
    purpose === "join"
      ? [`${by ?? publication} invites you to work on ${publication}.`, "Choose a password here, within a week:"]
      : [`Somebody asked for a new password for your account at ${publication}.`, "Choose it here, within the hour:"];
  change.post({
    to: to.email,
    subject: purpose === "join" ? `You are invited to ${publication}` : `A new password for ${publication}`,
    body: [`Dear ${first},`, "", ...words, `${baseUrl}/open/${secret}`, "", "The link is good once.", ""].join("\n"),
  });
}

/** Chooses the zone one sees times in; null for the publication's. */
export function chooseZone(act: Act, zone: string | null): Promise<Result<null>> {
  return write(act, async (change) => {
    if (zone !== null && !isZone(zone))
      return refuse({ code: "unknown-zone", field: "zone", sentence: "There is no such time zone." });
    const personId = act.personId ?? "";
    await change.tx.update(person).set({ zone }).where(eq(person.id, personId));
    change.happened(zoneChosen, { zone }, { subjectId: personId });
    return accept(null);
  });
}
