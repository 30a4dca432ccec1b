import { and, desc, ne, sql } from "drizzle-orm";
import { z } from "zod";
import { ideaJudged, ideaNoted, ideaOutlined, ideaShortlisted, intakeAgreed } from "#core/events/intake.ts";
import { intakeSettingsSchema } from "#core/intake/ideas.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { TITLE_LIMIT } from "#core/text/fields.ts";
import { termsOf } from "#core/words/search.ts";
import { administering } from "../access/administer.ts";
import type { Queryable } from "../db/client.ts";
import { newId } from "../db/schema/columns.ts";
import { ideaJudgement, intakeItem, publication } from "../db/schema/index.ts";
import { inJson, note, text } from "../piece/input.ts";
import { findWords } from "../search/queries.ts";
import { loadPlaces } from "../sections/places.ts";
import type { Viewer } from "../viewer.ts";
import { type Act, write } from "../write.ts";
import { answeredBy, change as changeItem, hasIntake, itemsSeen, judging, onItem } from "./items.ts";

export const noteInput = z.object({ title: text("Say it in a line.", TITLE_LIMIT), words: note });

/** Notes an idea, of whoever works here. */
export function noteIdea(act: Act, wanted: z.output<typeof noteInput>): Promise<Result<{ id: string }>> {
  return write(act, async ({ tx, actor, now, happened }) => {
    if (!actor || !hasIntake(actor, now))
      return refuse({ code: "not-granted", sentence: "Ideas are noted by who works here." });
    const places = await loadPlaces(tx);
    const id = newId();
    await tx.insert(intakeItem).values({
      id,
      sort: "idea",
      standing: "waiting",
      title: wanted.title,
      words: wanted.words,
      byId: actor.id,
      at: now,
      dueAt: answeredBy(places, places.intake.promise, now),
    });
    happened(ideaNoted, { title: wanted.title }, { subjectId: id });
    return accept({ id });
  });
}

export const outlineInput = z.object({
  ...onItem,
  words: note,
  bundle: z
    .string()
    .trim()
    .max(80, "At most 80 characters fit.")
    .default("")
    .transform((text) => text || null),
});

/** Outlines an idea, and says with which others it belongs. */
export function outlineIdea(act: Act, wanted: z.output<typeof outlineInput>): Promise<Result<null>> {
  return judging(act, wanted, "outline", async (change, item) => {
    if (item.revision !== wanted.revision)
      return refuse({ code: "stale", sentence: "Somebody outlined it meanwhile. Your words are still here." });
    await changeItem(change, item, { words: wanted.words, bundle: wanted.bundle });
    change.happened(ideaOutlined, { title: item.title }, { subjectId: item.id });
    return accept(null);
  });
}

export const judgeInput = z.object({
  ...onItem,
  answers: z.record(z.string().max(60), z.string().max(40)),
  note: z.string().trim().max(500, "At most 500 characters fit.").default(""),
});

/** Says what one thinks of an idea: an answer to each of the team's questions, once and anew. */
export function judgeIdea(act: Act, wanted: z.output<typeof judgeInput>): Promise<Result<null>> {
  return judging(act, wanted, "judge", async ({ tx, actor, now, places, happened }, item) => {
    const { questions } = places.intake;
    const answers = Object.fromEntries(
      questions.flatMap(({ key, answers }) => {
        const given = wanted.answers[key] ?? "";
        return answers.includes(given) ? [[key, given]] : [];
      }),
    );
    if (Object.keys(answers).length === 0 && wanted.note === "")
      return refuse({ code: "nothing", sentence: "Answer a question, or write a line." });
    const said = { answers, note: wanted.note, at: now };
    await tx
      .insert(ideaJudgement)
      .values({ itemId: item.id, personId: actor.id, ...said })
      .onDuplicateKeyUpdate({ set: said });
    happened(ideaJudged, { title: item.title, answers, note: wanted.note }, { subjectId: item.id });
    return accept(null);
  });
}

export const shortlistInput = z.object({ ...onItem, on: z.enum(["true", "false"]).transform((one) => one === "true") });

/** Puts an idea on the short list, or takes it off. */
export function shortlist(act: Act, wanted: z.output<typeof shortlistInput>): Promise<Result<null>> {
  return judging(act, wanted, "amend", async (change, item) => {
    const { on } = wanted;
    if (on === item.shortlisted) return accept(null);
    await changeItem(change, item, { shortlisted: on });
    change.happened(ideaShortlisted, { title: item.title, on }, { subjectId: item.id });
    return accept(null);
  });
}

export const agreeInput = z.object({ settings: inJson(intakeSettingsSchema) });

/** What holds for all that comes in: what ideas are judged by, why things are declined, by when the team answers. */
export function agreeOn(act: Act, { settings }: z.output<typeof agreeInput>): Promise<Result<null>> {
  return administering(act, "publication.edit", async ({ tx, happened }) => {
    await tx.update(publication).set({ intake: settings });
    happened(intakeAgreed, settings);
    return accept(null);
  });
}

/** So many ideas and pieces like another are shown. */
const LIKE = 5;

/**
 * What is like an idea while it is written: what came in before, with what became of it, and pieces there are. The
 * database's own full-text index ranks them by its words.
 */
export async function likeIdea(db: Queryable, viewer: Viewer, words: string, but: string | null) {
  const terms = termsOf(words);
  if (terms.length === 0) return { items: [], pieces: [] };
  const score = sql`MATCH(${intakeItem.title}, ${intakeItem.words}) AGAINST (${terms.join(" ")})`;
  const items = await db
    .select({
      id: intakeItem.id,
      title: intakeItem.title,
      standing: intakeItem.standing,
      reason: intakeItem.reason,
      settledAt: intakeItem.settledAt,
    })
    .from(intakeItem)
    .where(and(score, itemsSeen(viewer), but === null ? undefined : ne(intakeItem.id, but)))
    .orderBy(desc(score))
    .limit(LIKE);
  const pieces = await findWords(db, viewer, words, LIKE);
  return { items, pieces: pieces.map(({ slug, title }) => ({ slug, title })) };
}
