import { and, desc, eq, sql } from "drizzle-orm";
import { z } from "zod";
import { sayEvent } from "#core/events/catalogue.ts";
import { wordingChosen, wordingGivenUp } from "#core/events/places.ts";
import { NOTICES, SAMPLE_PARAMS, samplePayload, wordedFields } from "#core/events/worded.ts";
import { accept, type Refusal, type Result, refuse } from "#core/refusal.ts";
import {
  type FieldValues,
  faultsIn,
  fill,
  fillLine,
  WORDED,
  WORDING_MOST,
  WORDING_PARTS,
} from "#core/telling/wording.ts";
import { administering } from "../access/administer.ts";
import { visible } from "../access/visible.ts";
import type { Queryable } from "../db/client.ts";
import { ledger, notice, person, piece, wording } from "../db/schema/index.ts";
import type { Viewer } from "../viewer.ts";
import type { Act } from "../write.ts";
import { type KeptNotice, valuesOf } from "./words.ts";

/** So many pieces an event happened to are offered to try its words on. */
const TRIED_ON = 12;
const HOUR = 3_600_000;

const notAfter = (most: number) => z.string().max(most, `At most ${most} characters fit.`);
const which = { event: z.string().max(40), part: z.string().max(20), place: z.enum(WORDED) };

/** Which words are meant: of an event, for some of those it concerns, in one place. */
export const whichWording = z.object(which);
export const wordingInput = z.object({
  ...which,
  headline: notAfter(WORDING_MOST.headline).trim().min(1, "Without a headline nobody knows what it is about."),
  body: notAfter(WORDING_MOST.body)
    .default("")
    .transform((text) => text.replace(/\r\n/g, "\n")),
});
export const wordingTest = wordingInput.extend({
  /** The number of an entry of the ledger whose piece it is tried on; zero for none. */
  on: z.coerce.number().int().min(0).default(0),
});

/** What is amiss with words, said where they are written; null where nothing is. */
function whyNotWording(wanted: z.output<typeof wordingInput>): Refusal | null {
  const fields = wordedFields(wanted.event, wanted.part);
  if (fields.length === 0) return { code: "not-found", sentence: "There is no such notice." };
  for (const part of WORDING_PARTS) {
    const [fault, ...others] = faultsIn(wanted[part], fields);
    if (!fault) continue;
    const more = others.map(({ line, column, sentence }) => `Line ${line}, column ${column}: ${sentence}`);
    const sentence = `Line ${fault.line}, column ${fault.column}: ${fault.sentence}`;
    return { code: "fault", field: part, sentence, missing: more };
  }
  return null;
}

/** Words a notice anew, for everybody who reads it there. */
export function keepWording(act: Act, wanted: z.output<typeof wordingInput>): Promise<Result<null>> {
  return administering(act, "publication.edit", async ({ tx, happened }) => {
    const fault = whyNotWording(wanted);
    if (fault) return refuse(fault);
    const { headline, body, ...key } = wanted;
    await tx.insert(wording).values(wanted).onDuplicateKeyUpdate({ set: { headline, body } });
    happened(wordingChosen, { of: key, headline, body });
    return accept(null);
  });
}

/** Comes back to the ready-made words of a notice. */
export function giveUpWording(act: Act, of: z.output<typeof whichWording>): Promise<Result<null>> {
  return administering(act, "publication.edit", async ({ tx, happened }) => {
    const [{ affectedRows }] = await tx
      .delete(wording)
      .where(and(eq(wording.event, of.event), eq(wording.part, of.part), eq(wording.place, of.place)));
    if (affectedRows > 0) happened(wordingGivenUp, { of });
    return accept(null);
  });
}

/** Sends words as they stand in an editor to whoever writes them, as they would arrive. */
export function tryWording(act: Act, viewer: Viewer, wanted: z.output<typeof wordingTest>): Promise<Result<null>> {
  return administering(act, "publication.edit", async ({ tx, actor, post }) => {
    const fault = whyNotWording(wanted);
    if (fault) return refuse(fault);
    const [me] = await tx
      .select({ email: person.email, chat: person.chatAddress })
      .from(person)
      .where(eq(person.id, actor.id));
    if (wanted.place === "chat" && !me?.chat)
      return refuse({
        code: "no-channel",
        sentence: "You have no chat channel it could go to. Name one under how you are told.",
      });
    const occasions = await occasionsOf(tx, viewer, wanted.event, wanted.part);
    const { values } = occasions.find((one) => one.seq === wanted.on) ?? occasions.at(-1) ?? { values: null };
    if (!values) return refuse({ code: "not-found", sentence: "There is no such notice." });
    const body = fill(wanted.body, values);
    const subject = `Trying: ${fillLine(wanted.headline, values)}`;
    const chatOf = wanted.place === "chat" ? actor.id : undefined;
    post({
      to: chatOf ? "" : (me?.email ?? ""),
      subject,
      body: `${body}\n\n--\nTried on ${values.piece || "nothing"}.`,
      chatOf,
    });
    return accept(null);
  });
}

/** Something a notice may be tried on. */
export interface Occasion {
  /** The number of the ledger's entry; zero for what never happened. */
  seq: number;
  at: number;
  values: FieldValues;
}

/** What happened lately that a notice tells, of pieces the viewer may see, the latest first; behind it what it might be. */
async function occasionsOf(db: Queryable, viewer: Viewer, event: string, part: string): Promise<Occasion[]> {
  const rows = await db
    .select({
      seq: ledger.seq,
      at: ledger.at,
      payload: ledger.after,
      actor: person.name,
      params: sql<Record<
        string,
        unknown
      > | null>`(SELECT ${notice.params} FROM ${notice} WHERE ${and(eq(notice.seq, ledger.seq), eq(notice.part, part))} LIMIT 1)`,
      title: piece.title,
      sectionId: piece.sectionId,
    })
    .from(ledger)
    .innerJoin(piece, and(eq(piece.id, ledger.pieceId), visible(viewer)))
    .leftJoin(person, eq(person.id, ledger.actorId))
    .where(eq(ledger.action, event))
    .orderBy(desc(ledger.seq))
    .limit(TRIED_ON);
  const kept = { event, part, said: null, worded: null };
  const valued = (row: Omit<KeptNotice, keyof typeof kept>) => valuesOf({ ...kept, ...row }, viewer);
  const sample = {
    payload: samplePayload(event, viewer.now + HOUR),
    actor: viewer.name,
    params: SAMPLE_PARAMS,
    title: rows[0]?.title ?? "‹title›",
    sectionId: rows[0]?.sectionId ?? null,
  };
  return [
    ...rows.map(({ seq, at, ...row }) => ({ seq, at, values: valued(row) })),
    { seq: 0, at: viewer.now, values: valued(sample) },
  ];
}

/** Every notice there is with what it says, and where the team words it itself. */
export async function listWordings(db: Queryable, viewer: Viewer) {
  const rows = await db.select({ event: wording.event, part: wording.part, place: wording.place }).from(wording);
  const own = (event: string, part: string) =>
    rows.filter((row) => row.event === event && row.part === part).map((row) => row.place);
  return NOTICES.map(({ event, part, topic }) => ({
    event,
    part,
    topic,
    when: sayEvent(event, samplePayload(event, viewer.now + HOUR)),
    says: sampleOf(event, part, viewer),
    own: own(event, part),
  }));
}

const sampleOf = (event: string, part: string, viewer: Viewer) =>
  valuesOf(
    {
      event,
      part,
      said: null,
      worded: null,
      payload: samplePayload(event, viewer.now + HOUR),
      actor: "Somebody",
      params: SAMPLE_PARAMS,
      title: "a piece",
      sectionId: null,
    },
    viewer,
  ).what;

/** One notice to be worded: its fields, its words where the team has some, and what they may be tried on; null where there is none. */
export async function wordingPage(db: Queryable, viewer: Viewer, event: string, part: string) {
  const fields = wordedFields(event, part);
  if (fields.length === 0) return null;
  const own = await db
    .select({ place: wording.place, headline: wording.headline, body: wording.body })
    .from(wording)
    .where(and(eq(wording.event, event), eq(wording.part, part)));
  const [me] = await db.select({ chat: person.chatAddress }).from(person).where(eq(person.id, viewer.id));
  const occasions = await occasionsOf(db, viewer, event, part);
  const when = sayEvent(event, samplePayload(event, viewer.now + HOUR));
  return { event, part, when, fields, own, says: sampleOf(event, part, viewer), occasions, chat: me?.chat != null };
}
