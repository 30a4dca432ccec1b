import { and, eq, gt, inArray, isNull, max, or } from "drizzle-orm";
import { type LikelyWay, SEEN_DAYS } from "#core/flow/line.ts";
import type { Workflow } from "#core/workflow/document.ts";
import { apart } from "../apart/pool.ts";
import { GivenUp } from "../apart/turns.ts";
import type { Database, Queryable } from "../db/client.ts";
import { insertAll } from "../db/insert.ts";
import { likely, likelyLine, piece, stay, workflow, workflowRevision } from "../db/schema/index.ts";
import { loadDocuments } from "../piece/documents.ts";
import { loadPlaces } from "../sections/places.ts";
import { questionOf } from "./queries.ts";

const DAY = 86_400_000;
/** Where nothing moved what is likely is foreseen anew after so long: time went on. */
const STALE = 6 * 3_600_000;
/** A line is not foreseen more often than this, however much moves. */
const REST = 3 * 60_000;

/** Foresees the pieces of every line on which something moved since it was last done, or on which it is long ago. */
export async function refreshLikely(db: Database, now: number, rest = REST): Promise<void> {
  const lines = await db
    .select({ id: workflow.id, key: workflow.key, current: workflow.currentRevisionId, at: likelyLine.at })
    .from(workflow)
    .leftJoin(likelyLine, eq(likelyLine.workflowId, workflow.id));
  for (const { id, key, current, at } of lines) {
    if (current === null) continue;
    if (at !== null && (now - at < rest || (now - at < STALE && !(await movedSince(db, id, at))))) continue;
    await foreseeLine(db, { id, key, current }, now);
  }
}

/** Whether a piece came to a stop of a line, or left one, after an instant. */
async function movedSince(db: Queryable, workflowId: string, at: number): Promise<boolean> {
  const [last] = await db
    .select({ came: max(stay.arrivedAt) })
    .from(stay)
    .innerJoin(workflowRevision, eq(workflowRevision.id, stay.workflowRevisionId))
    .where(
      and(
        eq(workflowRevision.workflowId, workflowId),
        or(isNull(stay.leftAt), gt(stay.leftAt, at)),
        gt(stay.arrivedAt, at),
      ),
    );
  return last?.came !== null && last?.came !== undefined;
}

async function foreseeLine(
  db: Database,
  line: { id: string; key: string; current: string },
  now: number,
): Promise<void> {
  const { calendar } = await loadPlaces(db);
  const document = (await loadDocuments(db, [line.current])).get(line.current);
  if (!document) return;
  const asked = await questionOf(db, line.key, document, isNull(piece.deletedAt), now - SEEN_DAYS * DAY);
  const question = { ...asked.question, calendar, now, from: now, until: now, drawn: 0 };
  const ways = await apart("likelyOf", question, "the forecast").catch((error: Error) => {
    // What cannot be foreseen is not: nothing is shown of it.
    if (error instanceof GivenUp || error instanceof RangeError) return [];
    throw error;
  });
  const rows = ways.flatMap((way) => rowOf(way, document));
  await db.transaction(async (tx) => {
    const revisions = tx
      .select({ id: workflowRevision.id })
      .from(workflowRevision)
      .where(eq(workflowRevision.workflowId, line.id));
    const onLine = tx.select({ id: piece.id }).from(piece).where(inArray(piece.workflowRevisionId, revisions));
    await tx.delete(likely).where(inArray(likely.pieceId, onLine));
    await insertAll(tx, likely, rows);
    await tx
      .insert(likelyLine)
      .values({ workflowId: line.id, at: now })
      .onDuplicateKeyUpdate({ set: { at: now } });
  });
}

function rowOf({ id, p50, onTime, stops }: LikelyWay, document: Workflow): (typeof likely.$inferInsert)[] {
  const last = stops.at(-1);
  if (!last) return [];
  const kinds = new Map(document.states.map((one) => [one.key, one.kind]));
  const ready = stops.find((one) => kinds.get(one.state) === "ready" || kinds.get(one.state) === "live") ?? last;
  return [{ pieceId: id, p10: last.p10, p50, p90: last.p90, readyAt: ready.p50, onTime: onTime ?? null }];
}

/** What is likely of some pieces, by their ids. Whether they may be seen was decided before. */
export async function likelyOfPieces(db: Queryable, ids: readonly string[]) {
  if (ids.length === 0) return new Map<string, typeof likely.$inferSelect>();
  const rows = await db
    .select()
    .from(likely)
    .where(inArray(likely.pieceId, [...ids]));
  return new Map(rows.map((row) => [row.pieceId, row]));
}
