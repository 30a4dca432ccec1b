import { and, eq, isNull } from "drizzle-orm";
import { z } from "zod";
import { intakeTaken, reportAnswered, reportCame, reportThanked } from "#core/events/intake.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { newId } from "../db/schema/columns.ts";
import { intakeItem, piece } from "../db/schema/index.ts";
import { attempt } from "../people/attempts.ts";
import { text } from "../piece/input.ts";
import { readReleased } from "../reader/queries.ts";
import { loadPlaces } from "../sections/places.ts";
import { type Act, write } from "../write.ts";
import { answeredBy, change as changeItem, judgesOf, judging, onItem } from "./items.ts";
import { writeToSender } from "./letters.ts";
import { requesterOf } from "./requests.ts";

export const reportInput = z.object({
  slug: z.string().max(120),
  words: text("What is not right?", 2_000),
  /** The words they marked on the page. */
  quote: z.string().trim().max(600, "At most 600 characters fit.").default(""),
  name: z.string().trim().max(100, "At most 100 characters fit.").default(""),
  email: z.union([z.literal("").transform(() => null), z.email("This is no address.").max(200).toLowerCase()]),
});

/** Takes in what a reader says of a released piece. Nothing is mailed to an address nobody confirmed until a person answers. */
export async function sendReport(
  act: Act,
  wanted: z.output<typeof reportInput>,
  address: string,
): Promise<Result<null>> {
  const often = await attempt(act.db, { request: address }, act.now);
  if (often.refusal) return refuse(often.refusal);
  return write<null>({ ...act, personId: null }, async (change) => {
    const { tx, now } = change;
    const [about] = await tx.select().from(piece).where(eq(piece.slug, wanted.slug));
    if (!about || !(await readReleased(tx, wanted.slug)))
      return refuse({ code: "not-found", sentence: "There is no such piece." });
    const places = await loadPlaces(tx);
    const id = newId();
    const { words, quote, email } = wanted;
    const row = { sectionId: about.sectionId, kindId: about.kindId, holderId: null };
    await tx.insert(intakeItem).values({
      ...row,
      id,
      sort: "report",
      standing: "waiting",
      title: about.title,
      words,
      quote: quote || null,
      requesterId: email === null ? null : await requesterOf(change, email, wanted.name || "reader"),
      aboutId: about.id,
      at: now,
      dueAt: answeredBy(places, places.intake.promise, now),
    });
    change.happened(
      reportCame,
      { title: about.title, words, quote },
      { subjectId: id, pieceId: about.id, tell: { judge: await judgesOf(tx, row, places, now) } },
    );
    return accept(null);
  });
}

export const answerInput = z.object({ ...onItem, words: text("Write an answer.", 4_000) });

/** Answers a reader by mail; nothing else follows. */
export function answerReport(act: Act, wanted: z.output<typeof answerInput>): Promise<Result<null>> {
  return judging(act, wanted, "answer", async (change, item) => {
    if (item.requesterId === null)
      return refuse({ code: "nobody", sentence: "They left no address, so they cannot be answered." });
    const payload = { title: item.title, words: wanted.words };
    await changeItem(change, item, {
      standing: "answered",
      settledAt: change.now,
      settledById: change.actor.id,
      reason: wanted.words,
    });
    change.happened(reportAnswered, payload, { subjectId: item.id, pieceId: item.aboutId ?? undefined });
    await writeToSender(change, act, change.places, item.requesterId, reportAnswered, payload);
    return accept(null);
  });
}

export const correctInput = z.object(onItem);

/** Takes a reader's word for it: the piece is to be corrected, and they are thanked when that is out. @returns the piece */
export function takeForCorrection(act: Act, wanted: z.output<typeof correctInput>): Promise<Result<{ slug: string }>> {
  return judging(act, wanted, "correct", async (change, item) => {
    const [about] = await change.tx
      .select()
      .from(piece)
      .where(eq(piece.id, item.aboutId ?? ""));
    if (!about) return refuse({ code: "unknown-piece", sentence: "The piece is there no more." });
    await changeItem(change, item, {
      standing: "taken",
      pieceId: about.id,
      settledAt: change.now,
      settledById: change.actor.id,
    });
    change.happened(intakeTaken, { title: item.title, sort: item.sort }, { subjectId: item.id, pieceId: about.id });
    return accept({ slug: about.slug });
  });
}

/** Thanks every reader whose word led to a correction that is out now. */
export function thankReaders(act: Act, pieceId: string): Promise<Result<null>> {
  return write<null>(act, async (change) => {
    const { tx, now } = change;
    const waiting = await tx
      .select()
      .from(intakeItem)
      .where(
        and(
          eq(intakeItem.pieceId, pieceId),
          eq(intakeItem.sort, "report"),
          eq(intakeItem.standing, "taken"),
          isNull(intakeItem.thankedAt),
        ),
      )
      .for("update");
    const places = await loadPlaces(tx);
    for (const item of waiting) {
      await tx.update(intakeItem).set({ thankedAt: now }).where(eq(intakeItem.id, item.id));
      if (item.requesterId === null) continue;
      change.happened(reportThanked, { title: item.title }, { subjectId: item.id, pieceId });
      await writeToSender(change, act, places, item.requesterId, reportThanked, { title: item.title });
    }
    return accept(null);
  });
}
