import { and, desc, eq, inArray, isNull, sql } from "drizzle-orm";
import { visible } from "../access/visible.ts";
import type { Queryable } from "../db/client.ts";
import { ledger, notice, outbox, person, piece, task } from "../db/schema/index.ts";
import type { Viewer } from "../viewer.ts";
import { leadOf, wordsOf } from "./words.ts";

const SHOWN = 100;

/** How many notices a person has not read, as a column of another read. */
export const unreadBy = (personId: string) =>
  sql<number>`(SELECT COUNT(*) FROM ${notice} WHERE ${and(eq(notice.personId, personId), isNull(notice.readAt))})`.mapWith(
    Number,
  );

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
  const rows = await db
    .select({
      id: notice.id,
      event: ledger.action,
      part: notice.part,
      payload: ledger.after,
      subject: ledger.subjectId,
      params: notice.params,
      said: notice.said,
      actor: person.name,
      at: notice.at,
      readAt: notice.readAt,
      slug: piece.slug,
      title: piece.title,
      mail: outbox.status,
      attempts: outbox.attempts,
      nextAt: task.dueAt,
      mailError: outbox.lastError,
    })
    .from(notice)
    .leftJoin(ledger, eq(ledger.seq, notice.seq))
    .leftJoin(person, eq(person.id, ledger.actorId))
    .leftJoin(piece, and(eq(piece.id, notice.pieceId), visible(viewer)))
    .leftJoin(outbox, eq(outbox.id, notice.mailId))
    .leftJoin(task, and(eq(task.kind, "mail"), eq(task.subject, outbox.id)))
    .where(
      and(
        eq(notice.personId, viewer.id),
        only.unread ? isNull(notice.readAt) : undefined,
        only.events ? inArray(ledger.action, [...only.events]) : undefined,
      ),
    )
    .orderBy(desc(notice.at), desc(notice.id))
    .limit(only.most ?? SHOWN);
  return rows.map(({ event, part, payload, subject, params, said, actor, title, slug, ...row }) => {
    const { headline, note } = wordsOf({ event, part, payload, params, said, actor, title }, viewer.zone, viewer.now);
    return { ...row, lead: slug && leadOf(event, slug, subject), headline, note };
  });
}
