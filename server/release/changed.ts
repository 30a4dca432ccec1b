import { eq, sql } from "drizzle-orm";
import { dueIn } from "#core/passage/arrive.ts";
import { piece } from "../db/schema/index.ts";
import type { Piece } from "../piece/facts.ts";
import { moveDue } from "../review/dates.ts";
import { loadPlaces } from "../sections/places.ts";
import type { Change } from "../write.ts";

/** The piece shows that something about it changed. */
export async function changed(change: Change, { piece: row, state }: Piece, publishAt: number | null): Promise<void> {
  await change.tx
    .update(piece)
    .set({ publishAt, revision: sql`${piece.revision} + 1` })
    .where(eq(piece.id, row.id));
  // What is due so long before the publish date moves with it, unless somebody chose its date.
  if (publishAt === row.publishAt || !state.dueBefore || row.dueChosen || !row.inFlight) return;
  const { calendar } = await loadPlaces(change.tx);
  await moveDue(change, row.id, dueIn(state, { calendar, now: row.since, publishAt }));
}
