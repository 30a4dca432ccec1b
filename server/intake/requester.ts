import { and, asc, desc, eq, inArray } from "drizzle-orm";
import { missingIn } from "#core/intake/completeness.ts";
import { fateOf } from "#core/intake/fate.ts";
import { answersOf } from "#core/intake/form.ts";
import { whyNot } from "#core/intake/item.ts";
import type { Queryable } from "../db/client.ts";
import { intakeItem, intakeWord, piece } from "../db/schema/index.ts";
import { releasedAmong } from "../reader/queries.ts";
import type { Requester } from "./keys.ts";

/** So many requests are shown, the latest. */
const SHOWN = 100;

/**
 * All somebody asked for, the latest first, each with what became of it. Of the workshop it says only whether a piece
 * is in work or out; who works on it, where it is and what is said of it there stays inside.
 */
export async function requesterPage(db: Queryable, who: Requester) {
  const rows = await db
    .select({ item: intakeItem, state: piece.stateKind, deletedAt: piece.deletedAt })
    .from(intakeItem)
    .leftJoin(piece, eq(piece.id, intakeItem.pieceId))
    .where(eq(intakeItem.requesterId, who.id))
    .orderBy(desc(intakeItem.at), desc(intakeItem.id))
    .limit(SHOWN);
  const ids = rows.map((row) => row.item.id);
  const [said, out] = [
    ids.length === 0
      ? []
      : await db
          .select()
          .from(intakeWord)
          .where(inArray(intakeWord.itemId, ids))
          .orderBy(asc(intakeWord.at), asc(intakeWord.id)),
    await releasedAmong(
      db,
      rows.flatMap((row) => row.item.pieceId ?? []),
    ),
  ];
  return rows.map(({ item, state, deletedAt }) => {
    const words = said.filter((one) => one.itemId === item.id);
    const there = out.get(item.pieceId ?? "");
    const question = words.findLast((one) => one.sort === "question" || one.sort === "check");
    const made = state === null || deletedAt !== null ? null : { state, out: there !== undefined };
    const fields = item.fields ?? [];
    return {
      id: item.id,
      sort: item.sort,
      title: item.title,
      at: item.at,
      wishedAt: item.wishedAt,
      revision: item.revision,
      standing: item.standing,
      fate: fateOf(item.standing, made, {
        question: question?.words ?? "",
        reason: item.reason ?? "",
        corrected: item.sort === "report" ? item.thankedAt !== null : null,
      }),
      answer: item.standing === "answered" ? item.reason : null,
      fields,
      answers: item.content ? answersOf(fields, item.content) : {},
      missing: item.content ? missingIn(fields, item.content) : [],
      words: item.words,
      said: words.map(({ id, sort, words: text, changes, at }) => ({ id, sort, words: text, changes, at })),
      out: there ?? null,
      may: {
        amend: whyNot("amend-own", item) === null,
        answer: whyNot("answer-own", item) === null,
        withdraw: whyNot("withdraw-own", item) === null,
      },
    };
  });
}

/** One of somebody's own requests; null where it is not theirs. */
export async function ownRequest(db: Queryable, who: Requester, id: string) {
  const [row] = await db
    .select()
    .from(intakeItem)
    .where(and(eq(intakeItem.id, id), eq(intakeItem.requesterId, who.id)));
  return row ?? null;
}
