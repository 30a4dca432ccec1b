import { eq } from "drizzle-orm";
import { z } from "zod";
import { can } from "#core/access/decide.ts";
import { commentPinned, commentReopened, commentSettled } from "#core/events/remarks.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { SETTLEMENTS, type Settlement } from "#core/remarks/thread.ts";
import { loadHolder } from "../access/holders.ts";
import { thread } from "../db/schema/index.ts";
import type { Piece } from "../piece/facts.ts";
import { type Opened, openBare } from "../piece/open.ts";
import { foreseePiece } from "../release/foresee.ts";
import { type Act, type Change, write } from "../write.ts";
import { NO_THREAD, threadOf } from "./commands.ts";

const onThread = { pieceId: z.uuid(), threadId: z.uuid() };
export const settleInput = z.object({
  ...onThread,
  settled: z.stringbool(),
  outcome: z.enum(SETTLEMENTS).default("answered"),
});
export const pinInput = z.object({ ...onThread, pinned: z.stringbool() });

type Settling = Omit<z.output<typeof settleInput>, "outcome"> & { outcome?: Settlement };
type Row = NonNullable<Awaited<ReturnType<typeof threadOf>>>;

/** Whether somebody settles a thread: whoever began it, the piece's author, or an editor of its text. */
export const maySettle = (row: { authorId: string }, { facts, actor }: Opened<Piece>, now: number): boolean =>
  row.authorId === actor.id || facts.piece.authorId === actor.id || can(actor, "piece.edit", facts.target, now).allowed;

/** Settles a thread with an outcome, or opens it again. */
export function settleThread(act: Act, wanted: Settling): Promise<Result<null>> {
  return onOne(act, wanted, async (change, opened, row) => {
    if ((row.settledAt !== null) === wanted.settled) return accept(null);
    const { outcome = "answered" } = wanted;
    await change.tx
      .update(thread)
      .set(
        wanted.settled
          ? { settledAt: change.now, settledBy: opened.actor.id, outcome }
          : { settledAt: null, settledBy: null, outcome: null },
      )
      .where(eq(thread.id, row.id));
    const about = { pieceId: wanted.pieceId, subjectId: row.id };
    if (wanted.settled) change.happened(commentSettled, { outcome }, about);
    else change.happened(commentReopened, {}, about);
    await foreseePiece(change, opened.facts);
    return accept(null);
  });
}

/** Keeps a thread at the top of the margin, or no longer. */
export function pinThread(act: Act, wanted: z.output<typeof pinInput>): Promise<Result<null>> {
  return onOne(act, wanted, async (change, _, row) => {
    const { pinned } = wanted;
    if ((row.pinnedAt !== null) === pinned) return accept(null);
    await change.tx
      .update(thread)
      .set({ pinnedAt: pinned ? change.now : null })
      .where(eq(thread.id, row.id));
    change.happened(commentPinned, { pinned }, { pieceId: wanted.pieceId, subjectId: row.id });
    return accept(null);
  });
}

function onOne(
  act: Act,
  wanted: { pieceId: string; threadId: string },
  work: (change: Change, opened: Opened<Piece>, row: Row) => Promise<Result<null>>,
): Promise<Result<null>> {
  return write(act, async (change) => {
    const opened = await openBare(change, wanted.pieceId);
    if (!opened.ok) return opened;
    const row = await threadOf(change, wanted.pieceId, wanted.threadId);
    if (!row || (row.sentAt === null && row.authorId !== opened.value.actor.id)) return refuse(NO_THREAD);
    if (maySettle(row, opened.value, change.now)) return work(change, opened.value, row);
    const author = await loadHolder(change.tx, row.authorId);
    return refuse({
      code: "not-yours",
      sentence: "Remarks are settled by whoever made them, the author, or an editor of the text.",
      who: author ? [author.name] : [],
    });
  });
}
