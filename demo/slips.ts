import { and, asc, eq, isNotNull, isNull } from "drizzle-orm";
import type { Database } from "#server/db/client.ts";
import { piece, release, round, seat, section, version } from "#server/db/schema/index.ts";
import { overrideStep, recallPiece, sendPiece } from "#server/passage/commands.ts";
import { decide } from "#server/passage/deciding.ts";
import { deletePiece } from "#server/pieces/deleting.ts";
import { planRelease, withdrawPiece } from "#server/release/commands.ts";
import type { Act } from "#server/write.ts";
import { done } from "./done.ts";

const HOUR = 3_600_000;
const DAY = 24 * HOUR;

/** What happens now and then in any year: a review stuck, a date proposed, a slip called back, a piece withdrawn or deleted. */
export async function slip(db: Database, act: (who: string, now: number) => Act, now: number): Promise<void> {
  const at = async (stateKey: string, sectionKey?: string, skip = 0) => {
    const rows = await db
      .select({ piece, hash: version.hash })
      .from(piece)
      .innerJoin(version, eq(version.id, piece.currentVersionId))
      .innerJoin(section, eq(section.id, piece.sectionId))
      .leftJoin(release, and(eq(release.pieceId, piece.id), eq(release.status, "planned")))
      .where(
        and(
          eq(piece.stateKey, stateKey),
          isNull(piece.deletedAt),
          isNull(release.id),
          sectionKey ? eq(section.key, sectionKey) : undefined,
        ),
      )
      .orderBy(asc(piece.createdAt), asc(piece.id));
    return rows[skip];
  };
  const seeing = (row: { id: string; revision: number }) => ({ pieceId: row.id, revision: row.revision });

  const [alone] = await db
    .select({ piece, hash: version.hash, reviewer: seat.personId })
    .from(seat)
    .innerJoin(round, and(eq(round.id, seat.roundId), isNull(round.closedAt), eq(round.rule, "any")))
    .innerJoin(piece, eq(piece.id, seat.pieceId))
    .innerJoin(version, eq(version.id, piece.currentVersionId))
    .where(and(eq(seat.status, "open"), eq(piece.stateKey, "copy-edit"), isNull(seat.forPersonId)))
    .orderBy(asc(piece.createdAt))
    .limit(1);
  if (alone)
    done(
      await decide(
        { ...act("ilda", now - 5 * HOUR), personId: alone.reviewer },
        {
          pieceId: alone.piece.id,
          versionHash: alone.hash,
          verdict: "abstain",
          note: "I walked it with the writer; somebody else should read it.",
        },
      ),
    );

  const ready =
    (await at("ready", "high-routes")) ?? (await at("ready", "family-walks")) ?? (await at("ready", "winter"));
  if (ready) done(await planRelease(act("sefa", now - 3 * HOUR), { ...seeing(ready.piece), at: now + 4 * DAY }));

  const early = await at("draft", "huts");
  if (early) {
    const sent = await sendPiece(act("ilda", now - 2 * HOUR), {
      ...seeing(early.piece),
      transition: "send",
      note: "For copy edit.",
    });
    if (sent.ok)
      done(
        await recallPiece(act("ilda", now - HOUR), {
          pieceId: early.piece.id,
          revision: early.piece.revision + 1,
          note: "",
        }),
      );
  }

  const waiting = await at("route-check", undefined, 1);
  if (waiting)
    done(
      await overrideStep(act("ilda", now - 26 * HOUR), {
        ...seeing(waiting.piece),
        transition: "checked",
        note: "Both checkers are on the mountain until Sunday, and the warden has walked it this week.",
      }),
    );

  const [live] = await db
    .select({ piece })
    .from(piece)
    .innerJoin(section, eq(section.id, piece.sectionId))
    .where(and(isNotNull(piece.liveVersionId), eq(piece.stateKey, "live"), eq(section.key, "safety")))
    .orderBy(asc(piece.liveAt))
    .limit(1);
  if (live)
    done(
      await withdrawPiece(act("kai", now - 2 * DAY), {
        ...seeing(live.piece),
        note: "The bridge is open again.",
        notice: "The closure this notice spoke of is over. The path is open.",
      }),
    );

  const twice = await at("draft", "bulletin");
  if (twice)
    done(
      await deletePiece(act("ilda", now - DAY), {
        ...seeing(twice.piece),
        note: "Said in the item about the hut already.",
      }),
    );
}
