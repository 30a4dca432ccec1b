import { and, eq, isNull } from "drizzle-orm";
import { pieceReleased, pieceWithdrawn } from "#core/events/pieces.ts";
import { newId } from "../db/schema/columns.ts";
import { piece, released } from "../db/schema/index.ts";
import type { PieceFacts } from "../piece/facts.ts";
import type { Change } from "../write.ts";
import { endPlan } from "./plans.ts";

const shown = (pieceId: string) =>
  and(eq(released.pieceId, pieceId), eq(released.channel, "site"), isNull(released.until));

/** Makes the present version what readers see, in place of what they saw; what else was planned for the piece ends. */
export async function publish(change: Change, { piece: row, version }: PieceFacts): Promise<void> {
  const { tx, now } = change;
  await tx.update(released).set({ until: now }).where(shown(row.id));
  await tx.insert(released).values({ id: newId(), pieceId: row.id, channel: "site", versionId: version.id, from: now });
  await tx
    .update(piece)
    .set({
      liveVersionId: version.id,
      liveAt: now,
      firstLiveAt: row.firstLiveAt ?? now,
      publishAt: null,
      dueAt: null,
    })
    .where(eq(piece.id, row.id));
  await endPlan(change, row.id, "it is live");
  change.happened(
    pieceReleased,
    { version: version.number, hash: version.hash },
    { pieceId: row.id, subjectId: version.id, before: { live: row.liveVersionId }, tell: { author: [row.authorId] } },
  );
}

/**
 * Takes a piece away from readers: out of lists and feeds, and in its place a notice.
 *
 * @param said why, for the record, and what readers find instead
 */
export async function withdraw(
  change: Change,
  { piece: row, version }: Pick<PieceFacts, "piece" | "version">,
  said: { note: string; notice: string },
): Promise<void> {
  const { tx, now } = change;
  if (row.liveVersionId === null) return;
  await tx.update(released).set({ until: now, notice: said.notice }).where(shown(row.id));
  await tx.update(piece).set({ liveVersionId: null, liveAt: null }).where(eq(piece.id, row.id));
  change.happened(
    pieceWithdrawn,
    { version: version.number, ...said },
    { pieceId: row.id, subjectId: row.liveVersionId, tell: { author: [row.authorId] } },
  );
}
