import { and, eq, isNull, lte } from "drizzle-orm";
import { z } from "zod";
import { can } from "#core/access/decide.ts";
import { endChanged, endedElsewhere, releaseEnding } from "#core/events/release.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { SITE } from "#core/release/channel.ts";
import { notGranted } from "../access/who.ts";
import { piece, release, released } from "../db/schema/index.ts";
import { completed, loadPiece } from "../piece/facts.ts";
import { onPiece } from "../piece/input.ts";
import { openPiece } from "../piece/open.ts";
import { loadPlaces } from "../sections/places.ts";
import { cancel } from "../tasks/schedule.ts";
import { type Act, type Change, write } from "../write.ts";
import { loadChannel } from "./channels.ts";
import { scheduleEnds } from "./ends.ts";
import { openPlans } from "./plans.ts";
import { withdraw } from "./publish.ts";

/** What readers find where a piece ended by itself. */
const ENDED = "This page was here for a time, and is no more.";

export const endInput = z.object({ ...onPiece, endsAt: z.number().nullable().default(null) });

/** Says when a live piece ends by itself; null takes the end away. */
export function endAt(act: Act, wanted: z.output<typeof endInput>): Promise<Result<null>> {
  return write(act, async (change) => {
    const opened = await openPiece(change, wanted.pieceId, wanted.revision);
    if (!opened.ok) return opened;
    const { facts, actor } = opened.value;
    const { tx, now } = change;
    if (facts.piece.liveVersionId === null)
      return refuse({ code: "not-live", sentence: "Readers do not see this piece." });
    if (!can(actor, "piece.release", facts.target, now).allowed) {
      const sentence = "No role of yours lets you take pieces away from readers here.";
      return notGranted(tx, "piece.release", facts.target, now, sentence);
    }
    if (wanted.endsAt !== null && wanted.endsAt <= now)
      return refuse({ code: "past", field: "endsAt", sentence: "That has passed. Withdraw the piece instead." });
    const [row] = await tx.select().from(released).where(shownOf(facts.piece.id)).for("update");
    if (!row) return refuse({ code: "not-live", sentence: "Readers do not see this piece." });
    await tx.update(released).set({ endsAt: wanted.endsAt }).where(eq(released.id, row.id));
    // A correction that is planned with the same end gets the new one with it.
    for (const plan of await openPlans(change, [row.pieceId], SITE))
      if (plan.endsAt === row.endsAt)
        await tx.update(release).set({ endsAt: wanted.endsAt }).where(eq(release.id, plan.id));
    for (const kind of ["ending", "ending-soon"] as const) await cancel(tx, kind, [row.id]);
    await scheduleEnds(tx, now, [{ id: row.id, endsAt: wanted.endsAt }]);
    change.happened(
      endChanged,
      { at: wanted.endsAt },
      { pieceId: facts.piece.id, subjectId: row.id, before: { at: row.endsAt } },
    );
    return accept(null);
  });
}

const shownOf = (pieceId: string) =>
  and(eq(released.pieceId, pieceId), eq(released.channel, SITE), isNull(released.until));

/** Takes a piece away from readers whose end has come. Runs for the job; what was changed meanwhile is left alone. */
export function endNow(act: Act, releasedId: string): Promise<Result<null>> {
  return about(act, releasedId, async (change, row, facts) => {
    if (row.endsAt === null || row.endsAt > change.now) return;
    if (row.channel !== SITE) return endElsewhere(change, row);
    await withdraw(change, await completed(change.tx, facts), {
      note: "Its time is over.",
      notice: ENDED,
      ended: true,
    });
  });
}

/** A piece goes out of a channel that is not the reader site. */
async function endElsewhere(change: Change, { id, pieceId, channel }: typeof released.$inferSelect): Promise<void> {
  const { name } = await loadChannel(change.tx, channel);
  await change.tx.update(released).set({ until: change.now, endsAt: null }).where(eq(released.id, id));
  change.happened(endedElsewhere, { through: name }, { pieceId, subjectId: id });
}

/** Tells a piece's author that it ends soon. */
export function tellOfEnd(act: Act, releasedId: string): Promise<Result<null>> {
  return about(act, releasedId, async (change, row, facts) => {
    if (row.endsAt === null) return;
    change.happened(
      releaseEnding,
      { at: row.endsAt },
      { pieceId: row.pieceId, subjectId: row.id, tell: { owners: [facts.piece.authorId] } },
    );
  });
}

function about(
  act: Act,
  releasedId: string,
  work: (
    change: Change,
    row: typeof released.$inferSelect,
    facts: NonNullable<Awaited<ReturnType<typeof loadPiece>>>,
  ) => Promise<void>,
): Promise<Result<null>> {
  return write(act, async (change) => {
    const [peek] = await change.tx
      .select({ pieceId: released.pieceId })
      .from(released)
      .where(eq(released.id, releasedId));
    const places = await loadPlaces(change.tx);
    const facts = peek && (await loadPiece(change.tx, places, eq(piece.id, peek.pieceId), true));
    const still = and(eq(released.id, releasedId), isNull(released.until), lte(released.from, change.now));
    const [row] = await change.tx.select().from(released).where(still).for("update");
    if (row && facts) await work(change, row, facts);
    return accept(null);
  });
}
