import { and, desc, eq, inArray, isNull, sql } from "drizzle-orm";
import { alias } from "drizzle-orm/mysql-core";
import { CATALOGUE } from "#core/events/catalogue.ts";
import type { Worded } from "#core/telling/wording.ts";
import { groupBy } from "#core/words/group.ts";
import { visible } from "../access/visible.ts";
import type { Queryable } from "../db/client.ts";
import { ledger, notice, outbox, person, piece, task, wording } from "../db/schema/index.ts";
import type { Viewer } from "../viewer.ts";
import { leadOf, wordsOf } from "./words.ts";

const SHOWN = 200;

/** How many notices a person has not read, as a column of another read. */
export const unreadBy = (personId: string) =>
  sql<number>`(SELECT COUNT(*) FROM ${notice} WHERE ${and(eq(notice.personId, personId), isNull(notice.readAt))})`.mapWith(
    Number,
  );

/** Notices as they are kept, each with what its words are made of; of a piece the viewer may not see nothing. */
export function keptNotices(db: Queryable, viewer: Viewer, place: Worded) {
  const actor = alias(person, "actor");
  return db
    .select({
      id: notice.id,
      event: ledger.action,
      part: notice.part,
      payload: ledger.after,
      subject: ledger.subjectId,
      params: notice.params,
      said: notice.said,
      actor: actor.name,
      at: notice.at,
      readAt: notice.readAt,
      pieceId: notice.pieceId,
      batchId: notice.batchId,
      slug: piece.slug,
      title: piece.title,
      sectionId: piece.sectionId,
      worded: { headline: wording.headline, body: wording.body },
      mail: outbox.status,
      attempts: outbox.attempts,
      nextAt: task.dueAt,
      mailError: outbox.lastError,
    })
    .from(notice)
    .leftJoin(ledger, eq(ledger.seq, notice.seq))
    .leftJoin(actor, eq(actor.id, ledger.actorId))
    .leftJoin(piece, and(eq(piece.id, notice.pieceId), visible(viewer)))
    .leftJoin(
      wording,
      and(eq(wording.event, ledger.action), eq(wording.part, notice.part), eq(wording.place, sql`${place}`)),
    )
    .leftJoin(outbox, eq(outbox.id, notice.mailId))
    .leftJoin(task, and(eq(task.kind, "mail"), eq(task.subject, outbox.id)))
    .$dynamic();
}

/**
 * A viewer's notices, the newest first, in words. One whose piece they may no longer see loses its link.
 *
 * @param only of some events alone, those that are not read, at most so many
 */
export async function listNotices(
  db: Queryable,
  viewer: Viewer,
  only: { events?: readonly string[]; unread?: boolean; most?: number } = {},
) {
  const rows = await keptNotices(db, viewer, "app")
    .where(
      and(
        eq(notice.personId, viewer.id),
        only.unread ? isNull(notice.readAt) : undefined,
        only.events ? inArray(ledger.action, [...only.events]) : undefined,
      ),
    )
    .orderBy(desc(notice.at), desc(notice.id))
    .limit(only.most ?? SHOWN);
  return rows.map(({ id, at, readAt, pieceId, batchId, mail, attempts, nextAt, mailError, ...kept }) => {
    const { headline, body } = wordsOf(kept, viewer, "app");
    const apart = CATALOGUE.get(kept.event ?? "")?.leads === "edition";
    const lead = kept.slug || apart ? leadOf(kept) : null;
    return {
      id,
      at,
      readAt,
      pieceId,
      batchId,
      title: kept.title,
      lead,
      headline,
      note: body,
      mail,
      attempts,
      nextAt,
      mailError,
    };
  });
}

type Listed = Awaited<ReturnType<typeof listNotices>>[number];

/** Notices that stand together: of one piece, or of many pieces at once; the newest is shown, the others behind it. */
export interface Fold {
  newest: Listed;
  others: Listed[];
}

/** Folds notices by what they are about, those that are not read apart from those that are; the newest fold first. */
export function foldNotices(rows: readonly Listed[]): Fold[] {
  const folds = groupBy(rows, ({ id, batchId, pieceId, readAt }) => `${batchId ?? pieceId ?? id} ${readAt === null}`);
  return [...folds.values()].flatMap(([newest, ...others]) => (newest ? [{ newest, others }] : []));
}

/** When somebody last looked at their notices, epoch milliseconds; null where they never did. */
export async function lastLook(db: Queryable, viewer: Viewer): Promise<number | null> {
  const [row] = await db.select({ at: person.lookedAt }).from(person).where(eq(person.id, viewer.id));
  return row?.at ?? null;
}
