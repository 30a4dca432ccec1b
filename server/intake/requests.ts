import { and, eq, lt } from "drizzle-orm";
import { z } from "zod";
import { intakeReplied, intakeWithdrawn, requestAmended, requestCame } from "#core/events/intake.ts";
import { missingIn } from "#core/intake/completeness.ts";
import { amended, readAnswers } from "#core/intake/form.ts";
import { type IntakeAct, whyNot } from "#core/intake/item.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { TITLE_LIMIT } from "#core/text/fields.ts";
import { inTurn, orProblem } from "../apart/turns.ts";
import type { Database } from "../db/client.ts";
import { newId } from "../db/schema/columns.ts";
import { intakeFile, intakeItem, intakeWord, requester, requestForm } from "../db/schema/index.ts";
import { keep } from "../files/commands.ts";
import { type Sniffed, sniff } from "../files/sniff.ts";
import { attempt } from "../people/attempts.ts";
import { text } from "../piece/input.ts";
import { loadPlaces, type Places } from "../sections/places.ts";
import { asRefusal } from "../text/commands.ts";
import { type Act, type Change, write } from "../write.ts";
import { answeredBy, change as changeItem, type Item, judgesOf } from "./items.ts";
import { linkOf, newSecretKey, type Requester, useLink } from "./keys.ts";
import { askedAt, writeToSender } from "./letters.ts";

/** What is asked for: a title, the answers as words, and the date wished for (epoch milliseconds). */
const asked = {
  title: text("What is it about?", TITLE_LIMIT),
  wishedAt: z.number().nullable().default(null),
  answers: z.record(z.string(), z.string()).default({}),
};

export const requestInput = z.object({
  form: z.string().max(60),
  name: text("Your name.", 100),
  email: z.email("This is no address.").max(200, "At most 200 characters fit.").toLowerCase(),
  ...asked,
});

/** A file somebody brought along, as it came. */
export interface Along {
  name: string;
  bytes: Buffer;
}

/** So many files come along with a request. */
export const FILES_MOST = 5;

/** What a file is that somebody outside brought, or why it cannot be kept; of one sender one at a time. */
export async function sniffed(brought: Along, of: string): Promise<(Along & Sniffed) | { problem: string }> {
  const found = await orProblem(inTurn(of, () => sniff(brought.name, brought.bytes)));
  return "problem" in found ? found : { ...brought, ...found };
}

/** The same of several; the first that cannot be kept is said. */
async function sniffedAll(
  files: readonly Along[],
  address: string,
): Promise<{ files: (Along & Sniffed)[] } | { problem: string }> {
  if (files.length > FILES_MOST) return { problem: `At most ${FILES_MOST} files come along.` };
  const known: (Along & Sniffed)[] = [];
  for (const one of files) {
    const found = await sniffed(one, `address ${address}`);
    if ("problem" in found) return { problem: found.problem };
    known.push(found);
  }
  return { files: known };
}

/** Who sends something: from where, and as whom they are known already. */
export interface Sender {
  /** The network address. */
  address: string;
  /** By the link of an earlier mail, or as somebody who is signed in; null for whoever it may be. */
  known: { email: string; name: string } | null;
  /** Whether they are of the team, and signed in. */
  team: boolean;
}

/**
 * Takes a request in. Whose address is known already is answered at once; anybody else is sent a link first, and
 * until it is opened nobody is bothered.
 *
 * @returns whether the address must be confirmed first
 */
export async function sendRequest(
  act: Act,
  wanted: z.output<typeof requestInput>,
  { address, known, team }: Sender,
  brought: readonly Along[] = [],
): Promise<Result<{ confirms: boolean }>> {
  const often = await attempt(act.db, { request: address, ...(!known && { letter: wanted.email }) }, act.now);
  if (often.refusal) return refuse(often.refusal);
  const along = await sniffedAll(brought, address);
  if ("problem" in along) return refuse({ code: "bad-file", field: "files", sentence: along.problem });
  return write<{ confirms: boolean }>({ ...act, personId: null }, async (change) => {
    const { tx, now } = change;
    const [form] = await tx
      .select()
      .from(requestForm)
      .where(and(eq(requestForm.key, wanted.form), eq(requestForm.on, true)));
    if (!form) return refuse({ code: "not-found", sentence: "There is no such form." });
    const email = known?.email ?? wanted.email;
    if (form.openTo === "team" && !team)
      return refuse({ code: "team", sentence: "This form is for the team: sign in." });
    if (form.openTo === "invited" && !form.invited.includes(email))
      return refuse({
        code: "not-invited",
        field: "email",
        sentence: "This form is open to the addresses that were invited. Ask whoever told you of it.",
      });
    const read = readAnswers(form.fields, wanted.title, wanted.answers);
    if ("problems" in read) return refuse(asRefusal(read.problems));
    const requesterId = await requesterOf(change, email, wanted.name);
    const id = newId();
    await tx.insert(intakeItem).values({
      id,
      sort: "request",
      standing: "unconfirmed",
      title: read.content.title,
      words: "",
      content: read.content,
      fields: form.fields,
      formId: form.id,
      requesterId,
      sectionId: form.sectionId,
      kindId: form.kindId,
      wishedAt: wanted.wishedAt,
      holderId: form.holderId,
      at: now,
    });
    for (const one of along.files) {
      const fileId = await keep(change, one);
      await tx
        .insert(intakeFile)
        .ignore()
        .values({ itemId: id, fileId, name: one.name.slice(0, 200) });
    }
    const places = await loadPlaces(tx);
    if (known) {
      await arrive(change, act, places, id);
      return accept({ confirms: false });
    }
    const secret = await newSecretKey(tx, requesterId, "link", now);
    change.post({
      to: email,
      subject: `Confirm your request: ${places.name}`,
      // Nobody has proved yet whose address it is: it is mailed no word of whoever sent this.
      body: [
        `Somebody, we hope you, sent ${places.name} the form “${form.name}” under this address. Follow this link, and it is with us:`,
        askedAt(act.baseUrl, secret),
        "",
        "From then on the same page shows what becomes of it. If it was not you, there is nothing to do.",
      ].join("\n"),
    });
    return accept({ confirms: true });
  });
}

/** Somebody outside by their address, known from then on. @returns their id */
export async function requesterOf({ tx }: Change, email: string, name: string): Promise<string> {
  const [there] = await tx.select().from(requester).where(eq(requester.email, email)).for("update");
  if (there) return there.id;
  const id = newId();
  await tx.insert(requester).values({ id, email, name });
  return id;
}

/** A confirmed request is with the team: what is missing has been asked for, who judges is told, and its time begins. */
async function arrive(change: Change, act: Act, places: Places, itemId: string): Promise<void> {
  const { tx, now } = change;
  const [row] = await tx
    .select({ item: intakeItem, form: requestForm.name, promise: requestForm.promise, from: requester.name })
    .from(intakeItem)
    .innerJoin(requestForm, eq(requestForm.id, intakeItem.formId))
    .innerJoin(requester, eq(requester.id, intakeItem.requesterId))
    .where(eq(intakeItem.id, itemId));
  if (!row) return;
  const { item, form, promise, from } = row;
  const missing = item.content ? missingIn(item.fields ?? [], item.content) : [];
  await changeItem(change, item, {
    standing: missing.length > 0 ? "asked" : "waiting",
    at: now,
    dueAt: answeredBy(places, promise, now),
  });
  if (missing.length > 0) await say(change, itemId, "check", missing.join("\n"));
  const payload = { title: item.title, form, from, missing };
  change.happened(requestCame, payload, {
    subjectId: itemId,
    tell: { judge: await judgesOf(tx, item, places, now) },
  });
  await writeToSender(change, act, places, item.requesterId, requestCame, payload);
}

/** Keeps what was said about something that came in. */
export async function say(
  { tx, now, actor }: Change,
  itemId: string,
  sort: "question" | "answer" | "amendment" | "check",
  words: string,
  changes: (typeof intakeWord.$inferInsert)["changes"] = null,
): Promise<void> {
  await tx.insert(intakeWord).values({ id: newId(), itemId, sort, byId: actor?.id ?? null, words, changes, at: now });
}

const OVER = { code: "over", sentence: "This link was used already, or is too old. Have a new one sent to you." };

/** Opens a link of a mail: the address is confirmed, and the browser known from then on. @returns the browser's secret */
export function openAsked(act: Act, secret: string): Promise<Result<string>> {
  return write<string>({ ...act, personId: null }, async (change) => {
    const { tx, now } = change;
    const requesterId = await useLink(tx, secret, now);
    if (requesterId === null) return refuse(OVER);
    const unconfirmed = await tx
      .select({ id: intakeItem.id })
      .from(intakeItem)
      .where(and(eq(intakeItem.requesterId, requesterId), eq(intakeItem.standing, "unconfirmed")))
      .for("update");
    const places = await loadPlaces(tx);
    for (const { id } of unconfirmed) await arrive(change.apart(), act, places, id);
    return accept(await newSecretKey(tx, requesterId, "browser", now));
  });
}

/** Sends a new link to whom an old one belonged. Whoever has neither learns nothing. */
export async function renewAsked(act: Act, secret: string, address: string): Promise<Result<null>> {
  const link = await linkOf(act.db, secret, act.now);
  if (!link) return refuse({ code: "not-found", sentence: "There is no such link." });
  return sendLink(act, link.email, address);
}

/** Sends whoever has asked for something a link to their page. It answers alike whether or not an address is known. */
export async function sendLink(act: Act, email: string, address: string): Promise<Result<null>> {
  const often = await attempt(act.db, { request: address, letter: email }, act.now);
  if (often.refusal) return refuse(often.refusal);
  return write<null>({ ...act, personId: null }, async (change) => {
    const { tx, now } = change;
    const [to] = await tx.select().from(requester).where(eq(requester.email, email));
    if (!to) return accept(null);
    const secret = await newSecretKey(tx, to.id, "link", now);
    const { name } = await loadPlaces(tx);
    const body = `Dear ${to.name},\n\nall you asked for, and what became of it:\n${askedAt(act.baseUrl, secret)}`;
    change.post({ to: to.email, subject: `Your requests: ${name}`, body });
    return accept(null);
  });
}

export const ownInput = z.object({ itemId: z.uuid() });
export const replyInput = ownInput.extend({ words: text("Write an answer.", 4_000) });
export const amendOwnInput = ownInput.extend({ revision: z.coerce.number().int(), ...asked });

/** A requester answers what was asked back. */
export const replyOwn = (act: Act, who: Requester, wanted: z.output<typeof replyInput>): Promise<Result<null>> =>
  asSender(act, who, wanted.itemId, "answer-own", async (change, item, places) => {
    await changeItem(change, item, { standing: "waiting" });
    await say(change, item.id, "answer", wanted.words);
    const payload = { title: item.title, from: who.name, words: wanted.words };
    const judge = await judgesOf(change.tx, item, places, change.now);
    change.happened(intakeReplied, payload, { subjectId: item.id, tell: { judge } });
    return accept(null);
  });

/** A requester amends what they asked for, until it is taken up; what is still missing is said again. */
export const amendOwn = (act: Act, who: Requester, wanted: z.output<typeof amendOwnInput>): Promise<Result<null>> =>
  asSender(act, who, wanted.itemId, "amend-own", async (change, item) => {
    if (item.revision !== wanted.revision)
      return refuse({ code: "stale", sentence: "It changed meanwhile. Look at it as it is now; your words are here." });
    const fields = item.fields ?? [];
    const read = readAnswers(fields, wanted.title, wanted.answers);
    if ("problems" in read) return refuse(asRefusal(read.problems));
    const changes = amended(fields, item.content ?? { title: item.title, fields: {} }, read.content);
    if (changes.length === 0 && wanted.wishedAt === item.wishedAt) return accept(null);
    const missing = missingIn(fields, read.content);
    const standing = item.standing === "unconfirmed" ? "unconfirmed" : missing.length > 0 ? "asked" : "waiting";
    const { title } = read.content;
    await changeItem(change, item, { title, content: read.content, wishedAt: wanted.wishedAt, standing });
    await say(change, item.id, "amendment", "", changes);
    if (standing === "asked") await say(change, item.id, "check", missing.join("\n"));
    change.happened(requestAmended, { title, from: who.name, changes }, { subjectId: item.id });
    return accept(null);
  });

/** A requester takes back what they asked for. */
export const withdrawOwn = (act: Act, who: Requester, { itemId }: z.output<typeof ownInput>): Promise<Result<null>> =>
  asSender(act, who, itemId, "withdraw-own", async (change, item, places) => {
    await changeItem(change, item, { standing: "withdrawn", settledAt: change.now });
    const judge = item.standing === "unconfirmed" ? [] : await judgesOf(change.tx, item, places, change.now);
    change.happened(intakeWithdrawn, { title: item.title, from: who.name }, { subjectId: item.id, tell: { judge } });
    return accept(null);
  });

/** A write of whoever sent something, on what is their own. */
function asSender(
  act: Act,
  who: Requester,
  itemId: string,
  what: IntakeAct,
  work: (change: Change, item: Item, places: Places) => Promise<Result<null>>,
): Promise<Result<null>> {
  return write<null>({ ...act, personId: null }, async (change) => {
    const own = and(eq(intakeItem.id, itemId), eq(intakeItem.requesterId, who.id));
    const [item] = await change.tx.select().from(intakeItem).where(own).for("update");
    if (!item) return refuse({ code: "not-found", sentence: "There is no such request." });
    const settled = whyNot(what, item);
    if (settled !== null) return refuse({ code: "settled", sentence: settled });
    return work(change, item, await loadPlaces(change.tx));
  });
}

/** So long a request whose address nobody confirmed is kept, in milliseconds. */
const UNCONFIRMED = 14 * 86_400_000;

/** Takes away requests whose address nobody confirmed. @returns how many */
export async function sweepUnconfirmed(db: Database, now: number): Promise<number> {
  const old = and(eq(intakeItem.standing, "unconfirmed"), lt(intakeItem.at, now - UNCONFIRMED));
  const [{ affectedRows }] = await db.delete(intakeItem).where(old);
  return affectedRows;
}
