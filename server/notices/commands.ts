import { and, eq, isNull } from "drizzle-orm";
import type { Database } from "../db/client.ts";
import { notice, person } from "../db/schema/index.ts";
import type { Viewer } from "../viewer.ts";

/**
 * Marks notices as read: one piece's, or all. A mark is the reader's own and changes nothing for
 * anybody else, so it is the one write that leaves no entry in the ledger.
 *
 * @returns how many were unread
 */
export async function markRead(db: Database, viewer: Viewer, pieceId?: string): Promise<number> {
  const [{ affectedRows }] = await db
    .update(notice)
    .set({ readAt: viewer.now })
    .where(
      and(eq(notice.personId, viewer.id), isNull(notice.readAt), pieceId ? eq(notice.pieceId, pieceId) : undefined),
    );
  return affectedRows;
}

/** Keeps when somebody last looked at their notices: their own mark as well. */
export async function looked(db: Database, viewer: Viewer): Promise<void> {
  await db.update(person).set({ lookedAt: viewer.now }).where(eq(person.id, viewer.id));
}
