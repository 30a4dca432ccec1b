import { and, asc, eq, inArray, isNotNull, or, type SQL, sql } from "drizzle-orm";
import { versionsThinned } from "#core/events/text.ts";
import { accept, type Result } from "#core/refusal.ts";
import { THINNED_AFTER, thinnedOut } from "#core/text/thinning.ts";
import type { Queryable } from "../db/client.ts";
import { look, piece, round, stay, version } from "../db/schema/index.ts";
import { loadPlaces } from "../sections/places.ts";
import { type Act, write } from "../write.ts";
import { isNamed, RELIANCES, type Reliance } from "./versions.ts";

/** Every place where a version is named; what is named stays. */
const NAMED: Reliance[] = [
  ...RELIANCES,
  [round, round.versionId],
  [look, look.versionId],
  [piece, piece.currentVersionId],
];

/**
 * Thins out a piece's old versions (see `core/text/thinning`). Runs for
 * the job, with no actor, under the piece's lock.
 *
 * @returns how many versions went, and when there may be more
 */
export function thinVersions(act: Act, pieceId: string): Promise<Result<{ gone: number; again: number | null }>> {
  return write(act, async (change) => {
    const { tx, now } = change;
    const [row] = await tx.select({ id: piece.id }).from(piece).where(eq(piece.id, pieceId)).for("update");
    if (!row) return accept({ gone: 0, again: null });
    const { calendar } = await loadPlaces(tx);
    const versions = await pastVersions(tx, pieceId);
    // The first stay has no step: the piece was begun there, and sent by nobody.
    const sent = and(eq(stay.pieceId, pieceId), isNotNull(stay.step));
    const stays = await tx.select({ at: stay.arrivedAt }).from(stay).where(sent);
    const before = now - THINNED_AFTER;
    const gone = thinnedOut(
      versions,
      stays.map((one) => one.at),
      before,
      calendar.timeZone,
    );
    if (gone.length > 0) {
      await tx.delete(version).where(
        inArray(
          version.id,
          gone.map((one) => one.id),
        ),
      );
      const numbers = gone.map((one) => one.number);
      change.happened(versionsThinned, { count: gone.length }, { pieceId, before: { numbers } });
    }
    const younger = versions.filter((one) => one.at >= before).map((one) => one.at);
    return accept({
      gone: gone.length,
      again: younger.length > 0 ? Math.min(...younger) + THINNED_AFTER : null,
    });
  });
}

async function pastVersions(db: Queryable, pieceId: string) {
  const rows = await db
    .select({
      id: version.id,
      number: version.number,
      authorId: version.authorId,
      at: version.createdAt,
      reliedOn: or(sql`${version.name} IS NOT NULL`, ...NAMED.map((one) => isNamed(one))) as SQL<number>,
    })
    .from(version)
    .where(eq(version.pieceId, pieceId))
    .orderBy(asc(version.number));
  return rows.map((row) => ({ ...row, reliedOn: Number(row.reliedOn) === 1 }));
}
