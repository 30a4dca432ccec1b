import { createHash } from "node:crypto";
import { and, eq } from "drizzle-orm";
import { z } from "zod";
import type { Brought } from "#core/assist/answer.ts";
import { type Assistant, whyNotAsk } from "#core/assist/asking.ts";
import { ERRAND_KEYS, ERRANDS, lineFields, SENT_MOST, sentOf, textField } from "#core/assist/errand.ts";
import { assistantAsked, assistantLeft, assistantTaken } from "#core/events/assist.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { type Anchor, find } from "#core/text/anchor.ts";
import type { Content } from "#core/text/fields.ts";
import type { Queryable } from "../db/client.ts";
import { newId } from "../db/schema/columns.ts";
import { assistantErrand, commission } from "../db/schema/index.ts";
import { refuseOften } from "../people/attempts.ts";
import type { PieceFacts } from "../piece/facts.ts";
import { heldByOther } from "../piece/holder.ts";
import { note } from "../piece/input.ts";
import { type Opened, openPiece } from "../piece/open.ts";
import { remark } from "../remarks/commands.ts";
import { schedule } from "../tasks/schedule.ts";
import { keepText } from "../text/commands.ts";
import { type Act, type Change, write } from "../write.ts";
import { loadAssistant } from "./service.ts";

/** What of a piece an assistant is sent, and what tells it from what would be sent another time. */
export async function sentBy(db: Queryable, facts: PieceFacts) {
  const [asked] = await db
    .select({ brief: commission.brief })
    .from(commission)
    .where(eq(commission.pieceId, facts.piece.id));
  const about = { kind: facts.kind.name, brief: asked?.brief ?? "" };
  const sent = sentOf(facts.kind.fields, facts.version.content, about);
  return { sent, hash: createHash("sha256").update(JSON.stringify(sent)).digest("hex") };
}

export const askInput = z.object({
  pieceId: z.uuid(),
  errand: z.enum(ERRAND_KEYS, "Choose what to ask for."),
  /** What is said to the assistant besides. */
  note,
  /** What tells what was shown to be sent. */
  shown: z.string().max(64),
});

/** Sends the assistant for something, with what was shown before and nothing else; it goes out as a task. */
export async function askAssistant(act: Act, wanted: z.output<typeof askInput>): Promise<Result<null>> {
  const often = await refuseOften(act, "assistant");
  if (often) return refuse(often);
  return write<null>(act, async (change) => {
    const opened = await openFor(change, wanted.pieceId);
    if (!opened.ok) return opened;
    const { facts, actor, service } = opened.value;
    const { tx, now } = change;
    if (ERRANDS[wanted.errand].brings === "text" && !textField(facts.kind.fields))
      return refuse({ code: "no-text", field: "errand", sentence: "Pieces of this kind have no text to write." });
    const { sent, hash } = await sentBy(tx, facts);
    if (hash !== wanted.shown)
      return refuse({
        code: "stale",
        sentence:
          "The piece changed since you looked at what would be sent. Look at it again; your words are still here.",
      });
    const waiting = and(eq(assistantErrand.pieceId, facts.piece.id), eq(assistantErrand.standing, "waiting"));
    const [other] = await tx.select({ id: assistantErrand.id }).from(assistantErrand).where(waiting);
    if (other) return refuse({ code: "asked", sentence: `${service.name} is at it already.` });
    const { errand } = wanted;
    const id = newId();
    const body = JSON.stringify({ id, errand, note: wanted.note, piece: sent });
    if (body.length > SENT_MOST) return refuse({ code: "long", sentence: "The piece is too long to be sent." });
    const { name, url } = service;
    await tx.insert(assistantErrand).values({
      id,
      pieceId: facts.piece.id,
      byId: actor.id,
      errand,
      name,
      url,
      body,
      at: now,
      standing: "waiting",
    });
    await schedule(tx, { kind: "errand", subject: id, dueAt: now });
    change.happened(assistantAsked, { errand, name, words: sent.words }, { pieceId: facts.piece.id, subjectId: id });
    return accept(null);
  });
}

type Errand = typeof assistantErrand.$inferSelect;

/** Opens a piece for somebody who may ask the assistant about it. */
async function openFor(change: Change, pieceId: string): Promise<Result<Opened & { service: Service }>> {
  const opened = await openPiece(change, pieceId);
  if (!opened.ok) return opened;
  const service = await loadAssistant(change.tx);
  const closed = whyNotAsk(service, opened.value.actor, opened.value.facts, change.now);
  if (closed || !service) return refuse(closed ?? NO_ERRAND);
  return accept({ ...opened.value, service });
}
type Service = Assistant & { url: string };

const NO_ERRAND = { code: "not-found", sentence: "There is no such thing to take." };

const ofErrand = { pieceId: z.uuid(), errandId: z.uuid() };

/** Opens a piece, and what an assistant brought for it and nobody took or left. */
async function openBrought(
  change: Change,
  { pieceId, errandId }: { pieceId: string; errandId: string },
): Promise<Result<Opened & { errand: Errand; brought: Brought }>> {
  const opened = await openFor(change, pieceId);
  if (!opened.ok) return opened;
  const [errand] = await change.tx
    .select()
    .from(assistantErrand)
    .where(and(eq(assistantErrand.id, errandId), eq(assistantErrand.pieceId, pieceId)))
    .for("update");
  if (!errand?.brought) return refuse(NO_ERRAND);
  if (errand.standing !== "brought")
    return refuse({
      code: "settled",
      sentence: `Somebody ${errand.standing === "taken" ? "took" : "left"} it already.`,
    });
  return accept({ ...opened.value, errand, brought: errand.brought });
}

export const takeErrandInput = z.object({
  ...ofErrand,
  /** The hash of the text the person saw it beside. */
  base: z.string().max(64),
  /** The field keywords go into. */
  field: z.string().max(80).default(""),
});

/** Takes what an assistant brought as the piece's text, in a version of its own that says so. From then on it is the taker's. */
export function takeErrand(act: Act, wanted: z.output<typeof takeErrandInput>): Promise<Result<{ version: number }>> {
  return write(act, async (change) => {
    const opened = await openBrought(change, wanted);
    if (!opened.ok) return opened;
    const { facts, actor, places, errand, brought } = opened.value;
    const held = await heldByOther(change, facts, actor.id, places.calendar.timeZone);
    if (held) return refuse(held);
    if (facts.version.hash !== wanted.base)
      return refuse({
        code: "stale",
        sentence: "The text changed since you looked. Look at it beside the text of now.",
      });
    const content = taken(facts, brought, wanted.field);
    if (!content) return refuse({ code: "no-field", field: "field", sentence: "Choose where they go." });
    const name = `${ERRANDS[errand.errand].name.toLowerCase()} of ${errand.name}`;
    const kept = await keepText(change, opened.value, content, name);
    if (!kept.ok) return kept;
    await settle(change, errand, "taken");
    change.happened(
      assistantTaken,
      { errand: errand.errand, name: errand.name, version: kept.value.version },
      { pieceId: facts.piece.id, subjectId: errand.id },
    );
    return accept({ version: kept.value.version });
  });
}

/** The piece's content with what was brought in it; null where it has no place there. */
function taken({ kind, version: { content } }: PieceFacts, brought: Brought, field: string): Content | null {
  const into = textField(kind.fields);
  if (brought.manuscript && into) return { ...content, fields: { ...content.fields, [into.key]: brought.manuscript } };
  if (brought.words && lineFields(kind.fields).some(({ key }) => key === field))
    return { ...content, fields: { ...content.fields, [field]: brought.words.join(", ") } };
  return null;
}

const settle = ({ tx, actor, now }: Change, { id }: Errand, standing: "taken" | "left") =>
  tx
    .update(assistantErrand)
    .set({ standing, endedAt: now, endedById: actor?.id ?? null })
    .where(eq(assistantErrand.id, id));

export const leaveErrandInput = z.object({
  ...ofErrand,
  reason: z.string().trim().max(400, "At most 400 characters fit.").default(""),
});

/** Leaves what an assistant brought; nothing of it is in the piece. */
export function leaveErrand(act: Act, wanted: z.output<typeof leaveErrandInput>): Promise<Result<null>> {
  return write<null>(act, async (change) => {
    const opened = await openBrought(change, wanted);
    if (!opened.ok) return opened;
    const { errand, facts } = opened.value;
    await settle(change, errand, "left");
    change.happened(
      assistantLeft,
      { errand: errand.errand, name: errand.name, reason: wanted.reason },
      { pieceId: facts.piece.id, subjectId: errand.id },
    );
    return accept(null);
  });
}

export const pointInput = z.object({ ...ofErrand, point: z.coerce.number().int().min(0) });

/** Makes a remark of one's own of a point an assistant has, on the words it quotes where they stand in the text. */
export async function remarkOnPoint(act: Act, wanted: z.output<typeof pointInput>): Promise<Result<{ id: string }>> {
  // The key of the form is the remark's: it is made once.
  const { formKey: _, ...looking } = act;
  const found = await write(looking, async (change) => {
    const opened = await openBrought(change, wanted);
    if (!opened.ok) return opened;
    const { facts, errand, brought } = opened.value;
    const point = brought.points?.[wanted.point];
    if (!point) return refuse(NO_ERRAND);
    const field = textField(facts.kind.fields)?.key;
    const anchor = field && point.quote ? find(facts.version.content.fields[field], { exact: point.quote }) : null;
    // Nobody is called by what a stranger wrote.
    return accept({
      place: field && anchor ? on(field, anchor) : undefined,
      body: `${point.says.replaceAll("@", "")} (${errand.name})`,
    });
  });
  return found.ok ? remark(act, { pieceId: wanted.pieceId, ...found.value }) : found;
}

const on = (field: string, { start, end, exact, prefix, suffix }: Anchor) => ({
  field,
  range: { start, end },
  quote: { exact, prefix, suffix },
});
