import { and, eq, inArray, isNull, sql } from "drizzle-orm";
import { pieceReleased, pieceWithdrawn } from "#core/events/pieces.ts";
import { SITE } from "#core/release/channel.ts";
import { groupBy } from "#core/words/group.ts";
import type { Queryable } from "../db/client.ts";
import { insertAll } from "../db/insert.ts";
import { newId } from "../db/schema/columns.ts";
import { intakeItem, piece, pieceOrigin, released } from "../db/schema/index.ts";
import type { PieceFacts } from "../piece/facts.ts";
import { schedule } from "../tasks/schedule.ts";
import type { Change, Recipient } from "../write.ts";
import type { Channel } from "./channels.ts";
import { scheduleEnds } from "./ends.ts";
import { endPlans, leaveEditions } from "./plans.ts";

const shown = (pieceIds: readonly string[], through: string) =>
  and(inArray(released.pieceId, [...pieceIds]), eq(released.channel, through), isNull(released.until));

/** A channel, and what it is called. */
export type Through = Pick<Channel, "key" | "name">;

/** What readers of a channel see of some pieces now: since when, and when that ends by itself. */
export const shownNow = (tx: Queryable, pieceIds: readonly string[], through: string) =>
  tx
    .select({ pieceId: released.pieceId, versionId: released.versionId, endsAt: released.endsAt })
    .from(released)
    .where(shown(pieceIds, through));

/**
 * Makes the present versions of pieces what readers of a channel see, in place of what they saw; what else was
 * planned for the pieces there ends.
 *
 * @param all the pieces as they were, each with the part of the write that tells of it, when it ends by itself (left
 * out, the end it was planned with or has already stays), and what it corrects
 */
export async function publish(
  all: readonly { change: Change; facts: PieceFacts; endsAt?: number | null; correction?: string | null }[],
  { key: through, name }: Through = { key: SITE, name: "" },
): Promise<void> {
  const [first] = all;
  if (!first) return;
  const { tx, now } = first.change;
  const ids = all.map(({ facts }) => facts.piece.id);
  const before = await shownNow(tx, ids, through);
  const ended = await endPlans(first.change, ids, "it is live", through);
  const endOf = (id: string) => [...ended, ...before].find((one) => one.pieceId === id)?.endsAt ?? null;
  const ahead = (endsAt: number | null) => (endsAt !== null && endsAt > now ? endsAt : null);
  await tx.update(released).set({ until: now }).where(shown(ids, through));
  const rows = all.map(({ facts, endsAt = ahead(endOf(facts.piece.id)), correction = null }) => ({
    id: newId(),
    pieceId: facts.piece.id,
    channel: through,
    versionId: facts.version.id,
    from: now,
    endsAt,
    correction: facts.piece.firstLiveAt === null ? null : correction,
  }));
  await insertAll(tx, released, rows);
  await scheduleEnds(tx, now, rows);
  if (through === SITE)
    await tx
      .update(piece)
      .set({
        liveVersionId: sql`${piece.currentVersionId}`,
        liveAt: now,
        // The database sets columns one after another: this one reads what the two below are about to change.
        promisedAt: sql`IF(${piece.firstLiveAt} IS NULL, ${piece.publishAt}, ${piece.promisedAt})`,
        firstLiveAt: sql`COALESCE(${piece.firstLiveAt}, ${sql.param(now, piece.firstLiveAt)})`,
        publishAt: null,
        dueAt: null,
      })
      .where(inArray(piece.id, ids));
  if (through === SITE) await thankLater(first.change, ids);
  // What readers saw before is corrected: that concerns what was begun from it.
  const derived = await begunFrom(
    first.change,
    all.flatMap(({ facts }) => (facts.piece.liveVersionId === null ? [] : [facts.piece.id])),
  );
  for (const { change, facts } of all) {
    const { piece: row, version } = facts;
    change.happened(
      pieceReleased,
      { version: version.number, hash: version.hash, ...(through !== SITE && { through: name }) },
      {
        pieceId: row.id,
        subjectId: version.id,
        before: { live: row.liveVersionId },
        tell: { author: [row.authorId], derived: derived.get(row.id) ?? [] },
      },
    );
  }
}

/** Whose pieces were begun from some, by these, and what theirs are called. */
async function begunFrom({ tx }: Change, ids: readonly string[]): Promise<Map<string, Recipient[]>> {
  if (ids.length === 0) return new Map();
  const rows = await tx
    .select({ fromId: pieceOrigin.fromId, to: piece.authorId, title: piece.title })
    .from(pieceOrigin)
    .innerJoin(piece, eq(piece.id, pieceOrigin.pieceId))
    .where(and(inArray(pieceOrigin.fromId, [...ids]), isNull(piece.deletedAt)));
  return new Map(
    [...groupBy(rows, (row) => row.fromId ?? "")].map(([id, some]) => [
      id,
      some.map(({ to, title }) => ({ to, params: { title } })),
    ]),
  );
}

/** Whoever pointed out what is corrected now is thanked for it. */
async function thankLater({ tx, now }: Change, ids: readonly string[]): Promise<void> {
  const rows = await tx
    .selectDistinct({ id: intakeItem.pieceId })
    .from(intakeItem)
    .where(
      and(
        inArray(intakeItem.pieceId, [...ids]),
        eq(intakeItem.sort, "report"),
        eq(intakeItem.standing, "taken"),
        isNull(intakeItem.thankedAt),
      ),
    );
  for (const { id } of rows) await schedule(tx, { kind: "thanks", subject: id ?? "", dueAt: now });
}

/**
 * Takes a piece away from readers: out of lists and feeds, and out of the editions to come; in its place they find a
 * notice. Withdrawn by somebody, what is still planned for it ends as well.
 *
 * @param said why, for the record, and what readers find instead; `ended` where its time was over
 */
export async function withdraw(
  change: Change,
  { piece: row, version }: Pick<PieceFacts, "piece" | "version">,
  said: { note: string; notice: string; insteadId?: string | null; ended?: boolean },
): Promise<void> {
  const { tx, now } = change;
  if (row.liveVersionId === null) return;
  await tx
    .update(released)
    .set({ until: now, notice: said.notice, insteadId: said.insteadId ?? null, endsAt: null })
    .where(shown([row.id], SITE));
  await tx.update(piece).set({ liveVersionId: null, liveAt: null }).where(eq(piece.id, row.id));
  await leaveEditions(change, row.id, said.ended ? "readers see it no more" : "it was withdrawn");
  if (!said.ended) await endPlans(change, [row.id], "it was withdrawn");
  change.happened(
    pieceWithdrawn,
    { version: version.number, note: said.note, notice: said.notice },
    {
      pieceId: row.id,
      subjectId: row.liveVersionId,
      tell: { author: [row.authorId], derived: (await begunFrom(change, [row.id])).get(row.id) ?? [] },
    },
  );
}
