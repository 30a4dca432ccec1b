import { and, count, desc, eq, isNull } from "drizzle-orm";
import { visible } from "../access/visible.ts";
import type { Queryable } from "../db/client.ts";
import { notice, outbox, piece } from "../db/schema/index.ts";
import type { Viewer } from "../viewer.ts";

const SHOWN = 100;

/** How many notices a viewer has not read. */
export async function countUnread(db: Queryable, viewer: Viewer): Promise<number> {
  const [row] = await db
    .select({ unread: count() })
    .from(notice)
    .where(and(eq(notice.personId, viewer.id), isNull(notice.readAt)));
  return row?.unread ?? 0;
}

/** A viewer's notices, the newest first. One whose piece they may no longer see loses its link. */
export function listNotices(db: Queryable, viewer: Viewer) {
  return db
    .select({
      id: notice.id,
      kind: notice.kind,
      headline: notice.headline,
      note: notice.note,
      at: notice.at,
      readAt: notice.readAt,
      slug: piece.slug,
      mail: outbox.status,
      attempts: outbox.attempts,
      nextAt: outbox.nextAt,
      mailError: outbox.lastError,
    })
    .from(notice)
    .leftJoin(piece, and(eq(piece.id, notice.pieceId), visible(viewer)))
    .leftJoin(outbox, eq(outbox.noticeId, notice.id))
    .where(eq(notice.personId, viewer.id))
    .orderBy(desc(notice.at), desc(notice.id))
    .limit(SHOWN);
}
