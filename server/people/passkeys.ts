import { isIP } from "node:net";
import {
  type AuthenticationResponseJSON,
  generateAuthenticationOptions,
  generateRegistrationOptions,
  type PublicKeyCredentialCreationOptionsJSON,
  type PublicKeyCredentialRequestOptionsJSON,
  type RegistrationResponseJSON,
  verifyAuthenticationResponse,
  verifyRegistrationResponse,
} from "@simplewebauthn/server";
import { and, desc, eq, lt } from "drizzle-orm";
import { passkeyAdded, passkeyDropped } from "#core/events/people.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import type { Queryable } from "../db/client.ts";
import { newId } from "../db/schema/columns.ts";
import { passkey, person, recoveryCode, spentChallenge } from "../db/schema/index.ts";
import { isLoopback } from "../jobs/mail.ts";
import type { Viewer } from "../viewer.ts";
import { type Act, type Change, whyUnproven, write } from "../write.ts";
import { attempt } from "./attempts.ts";
import type { Browser } from "./browsers.ts";
import { tellOwner } from "./letters.ts";
import { factorsOf, forgetIdleCodes, newRecoveryCodes } from "./recovery.ts";
import { DEMANDED, isDemanded } from "./second-factor.ts";
import { newSecret, secretId } from "./secrets.ts";
import { openSession, raise } from "./sessions.ts";
import type { Entered } from "./sign-in.ts";

/** How long a challenge may be answered, in milliseconds; by the machine's clock, as devices go. */
const ANSWERED_WITHIN = 5 * 60_000;
const MOST = 20;

/** For whom devices keep passkeys of this installation, in the terms of Web Authentication: a domain, and the origin pages come from. */
export interface Party {
  id: string;
  origin: string;
}

/** Passkeys belong to a name, never to numbers: on this machine that is `localhost`, elsewhere there are none without one. */
export function partyOf(baseUrl: string): Party | null {
  const { protocol, hostname, port, origin } = new URL(baseUrl);
  if (!isIP(hostname.replace(/[[\]]/g, ""))) return { id: hostname, origin };
  return isLoopback(hostname) ? { id: "localhost", origin: `${protocol}//localhost${port && `:${port}`}` } : null;
}

const NOT_HERE = {
  code: "no-passkeys",
  sentence: "Passkeys need Elenco to be reached by a name, not by numbers.",
};
const NOT_GOOD = { code: "passkey", sentence: "That passkey is not known here, or it took too long. Try again." };

/** Asks any device for a passkey of this installation. */
export async function askPasskey(baseUrl: string): Promise<Result<PublicKeyCredentialRequestOptionsJSON>> {
  const party = partyOf(baseUrl);
  if (!party) return refuse(NOT_HERE);
  const challenge = newChallenge("enter");
  return accept(await generateAuthenticationOptions({ rpID: party.id, challenge, userVerification: "required" }));
}

/**
 * Signs in by a passkey: it is held, and its device has made sure of its holder, so that nothing more is
 * asked. An answer is good once.
 */
export async function enterByPasskey(
  act: Act,
  response: AuthenticationResponseJSON,
  browser: Browser,
): Promise<Result<Entered>> {
  const { refusal, forgive } = await attempt(act.db, { address: browser.address }, act.now);
  if (refusal) return refuse(refusal);
  const [key] = await act.db
    .select()
    .from(passkey)
    .innerJoin(person, eq(person.id, passkey.personId))
    .where(eq(passkey.credential, response.id));
  const verified = key && (await answers(act.baseUrl, key.passkey, response));
  if (!verified || !key.person.active || key.person.guest) return refuse(NOT_GOOD);
  const { id, personId } = key.passkey;
  const used = await write<null>({ ...act, personId }, async (change) => {
    if (!(await spend(change, verified.challenge))) return refuse(NOT_GOOD);
    await change.tx.update(passkey).set({ counter: verified.counter, usedAt: change.now }).where(eq(passkey.id, id));
    return accept(null);
  });
  if (!used.ok) return used;
  await forgive();
  const opened = await openSession(act, personId, browser, { factor: true });
  return opened.ok ? accept({ secret: opened.value, confirmed: true }) : opened;
}

async function answers(
  baseUrl: string,
  { credential, publicKey, counter }: typeof passkey.$inferSelect,
  response: AuthenticationResponseJSON,
) {
  const party = partyOf(baseUrl);
  if (!party) return null;
  let challenge = "";
  try {
    const { verified, authenticationInfo } = await verifyAuthenticationResponse({
      response,
      expectedChallenge: (given) => {
        challenge = given;
        return isOurs(given, "enter");
      },
      expectedOrigin: party.origin,
      expectedRPID: party.id,
      credential: { id: credential, publicKey: Buffer.from(publicKey, "base64url"), counter },
      requireUserVerification: true,
    });
    return verified ? { challenge, counter: authenticationInfo.newCounter } : null;
  } catch {
    // Whatever is wrong with it, the answer is not one.
    return null;
  }
}

/** Asks a device to make a passkey for a person who proved lately who they are. */
export async function newPasskey(act: Act): Promise<Result<PublicKeyCredentialCreationOptionsJSON>> {
  const unproven = whyUnproven(act);
  if (unproven) return refuse(unproven);
  const party = partyOf(act.baseUrl);
  const [owner] = await act.db
    .select()
    .from(person)
    .where(eq(person.id, act.personId ?? ""));
  if (!party || !owner) return refuse(NOT_HERE);
  const known = await act.db.select().from(passkey).where(eq(passkey.personId, owner.id));
  return accept(
    await generateRegistrationOptions({
      rpName: "Elenco",
      rpID: party.id,
      userName: owner.email,
      userDisplayName: owner.name,
      userID: Buffer.from(owner.id),
      challenge: newChallenge(owner.id),
      excludeCredentials: known.map(({ credential }) => ({ id: credential })),
      authenticatorSelection: { residentKey: "required", userVerification: "required" },
    }),
  );
}

/** What adding a passkey gives: the session's new secret, and recovery codes where there were none. */
export interface Added {
  secret: string;
  codes: string[] | null;
}

/**
 * Keeps a passkey that a person's device made.
 *
 * @param secret the session's
 */
export async function addPasskey(
  act: Act,
  wanted: { response: RegistrationResponseJSON; name: string },
  secret: string,
): Promise<Result<Added>> {
  const unproven = whyUnproven(act);
  if (unproven) return refuse(unproven);
  const made = await madeBy(act, wanted.response);
  if (!made) return refuse(NOT_GOOD);
  return write(act, async (change) => {
    const { tx, now } = change;
    const personId = act.personId ?? "";
    const own = await tx.select({ id: passkey.id }).from(passkey).where(eq(passkey.personId, personId)).for("update");
    if (own.length >= MOST) return refuse({ code: "too-many", sentence: `${MOST} passkeys are enough.` });
    if (!(await spend(change, made.challenge))) return refuse(NOT_GOOD);
    const { credential, publicKey, counter } = made;
    const name = wanted.name.trim() || "Passkey";
    await tx.insert(passkey).values({ id: newId(), personId, credential, publicKey, counter, name, createdAt: now });
    const [code] = await tx.select().from(recoveryCode).where(eq(recoveryCode.personId, personId)).limit(1);
    const codes = code ? null : await newRecoveryCodes(change, personId);
    change.happened(passkeyAdded, { name }, { subjectId: personId });
    await tellOwner(change, personId, "passkey-added", act);
    return accept({ secret: await raise(change, secret, { factor: true }), codes });
  });
}

async function madeBy({ baseUrl, personId }: Act, response: RegistrationResponseJSON) {
  const party = partyOf(baseUrl);
  if (!party) return null;
  let challenge = "";
  try {
    const { registrationInfo } = await verifyRegistrationResponse({
      response,
      expectedChallenge: (given) => {
        challenge = given;
        return isOurs(given, personId ?? "");
      },
      expectedOrigin: party.origin,
      expectedRPID: party.id,
      requireUserVerification: true,
    });
    if (!registrationInfo) return null;
    const { id: credential, publicKey, counter } = registrationInfo.credential;
    return { challenge, credential, publicKey: Buffer.from(publicKey).toString("base64url"), counter };
  } catch {
    // Whatever is wrong with it, nothing was made.
    return null;
  }
}

/** Takes a passkey of one's own away; refused where it is the last factor and a role demands one. */
export async function dropPasskey(act: Act, id: string): Promise<Result<null>> {
  const unproven = whyUnproven(act);
  if (unproven) return refuse(unproven);
  return write(act, async (change) => {
    const { tx, now } = change;
    const personId = act.personId ?? "";
    const at = and(eq(passkey.id, id), eq(passkey.personId, personId));
    const [row] = await tx.select().from(passkey).where(at).for("update");
    if (!row) return refuse({ code: "not-found", sentence: "There is no such passkey." });
    await tx.delete(passkey).where(at);
    const left = await factorsOf(tx, personId);
    if (!left.code && !left.passkey && (await isDemanded(tx, personId, now))) return refuse(DEMANDED);
    await forgetIdleCodes(change, personId);
    change.happened(passkeyDropped, { name: row.name }, { subjectId: personId });
    await tellOwner(change, personId, "passkey-dropped", act);
    return accept(null);
  });
}

/** A passkey as its owner sees it. */
export interface PasskeyRow {
  id: string;
  name: string;
  createdAt: number;
  usedAt: number | null;
}

/** One's own passkeys, the latest first; none of somebody one sees as. */
export async function listPasskeys(db: Queryable, viewer: Viewer): Promise<PasskeyRow[]> {
  if (viewer.seenBy) return [];
  return db
    .select({ id: passkey.id, name: passkey.name, createdAt: passkey.createdAt, usedAt: passkey.usedAt })
    .from(passkey)
    .where(eq(passkey.personId, viewer.id))
    .orderBy(desc(passkey.createdAt));
}

/** A challenge that says itself when and for what it was given, so that none needs keeping before it is answered. */
function newChallenge(purpose: string): string {
  const given = `${Date.now()}.${newSecret()}`;
  return `${given}.${secretId(`challenge ${given} ${purpose}`)}`;
}

/** @param challenge as the device had it, base64url */
function isOurs(challenge: string, purpose: string): boolean {
  const [at = "", random = "", sealed] = Buffer.from(challenge, "base64url").toString("utf8").split(".");
  return sealed === secretId(`challenge ${at}.${random} ${purpose}`) && Date.now() - Number(at) < ANSWERED_WITHIN;
}

/** Uses a challenge up. @returns false where it was answered before */
async function spend({ tx }: Change, challenge: string): Promise<boolean> {
  await tx.delete(spentChallenge).where(lt(spentChallenge.at, Date.now() - 2 * ANSWERED_WITHIN));
  const row = { id: secretId(challenge), at: Date.now() };
  const [{ affectedRows }] = await tx.insert(spentChallenge).ignore().values(row);
  return affectedRows > 0;
}
