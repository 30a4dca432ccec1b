import { and, eq } from "drizzle-orm";
import { z } from "zod";
import { can } from "#core/access/decide.ts";
import { pointTicked, pointUnticked } from "#core/events/pieces.ts";
import { commentMade, commentReopened, commentSettled } from "#core/events/remarks.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { newId } from "../db/schema/columns.ts";
import { checklistPoint, comment, person } from "../db/schema/index.ts";
import { refuseOften } from "../people/attempts.ts";
import { checklistOf } from "../piece/facts.ts";
import { openBare, openPiece } from "../piece/open.ts";
import { foresee, foreseePiece } from "../release/foresee.ts";
import { loadOpenRound } from "../review/rounds.ts";
import { type Act, write } from "../write.ts";

export const COMMENT_LIMIT = 4_000;

export const commentInput = z.object({ pieceId: z.uuid(), body: z.string() });

/** Leaves a comment on a piece; its author and those reviewing it are told. */
export async function addComment(act: Act, wanted: z.infer<typeof commentInput>): Promise<Result<{ id: string }>> {
  const often = await refuseOften(act, "comment");
  if (often) return refuse(often);
  return write(act, async (change) => {
    const opened = await openPiece(change, wanted.pieceId);
    if (!opened.ok) return opened;
    const { facts, actor } = opened.value;
    const body = wanted.body.trim();
    if (!can(actor, "piece.comment", facts.target, change.now).allowed)
      return refuse({ code: "not-granted", sentence: "No grant of yours lets you comment here." });
    if (body === "") return refuse({ code: "empty", field: "body", sentence: "A comment needs words." });
    if (body.length > COMMENT_LIMIT)
      return refuse({
        code: "too-long",
        field: "body",
        sentence: `A comment holds at most ${COMMENT_LIMIT} characters; this one has ${body.length}.`,
      });
    const id = newId();
    await change.tx.insert(comment).values({
      id,
      pieceId: facts.piece.id,
      versionId: facts.version.id,
      authorId: actor.id,
      body,
      createdAt: change.now,
    });
    const round = await loadOpenRound(change.tx, facts.piece.id);
    const seated = round?.seats.filter((one) => one.status !== "void").map((one) => one.personId) ?? [];
    change.happened(
      commentMade,
      { body, version: facts.version.number },
      { pieceId: facts.piece.id, subjectId: id, tell: { concerned: [facts.piece.authorId, ...seated] } },
    );
    await foresee(change, facts);
    return accept({ id });
  });
}

export const settleInput = z.object({ pieceId: z.uuid(), commentId: z.uuid(), settled: z.stringbool() });

/** Settles a comment, or opens it again. */
export function settleComment(act: Act, wanted: z.infer<typeof settleInput>): Promise<Result<null>> {
  return write(act, async (change) => {
    const opened = await openBare(change, wanted.pieceId);
    if (!opened.ok) return opened;
    const { facts, actor } = opened.value;
    const [row] = await change.tx
      .select({ authorId: comment.authorId, authorName: person.name, settledAt: comment.settledAt })
      .from(comment)
      .innerJoin(person, eq(person.id, comment.authorId))
      .where(and(eq(comment.id, wanted.commentId), eq(comment.pieceId, facts.piece.id)));
    if (!row) return refuse({ code: "not-found", sentence: "There is no such comment." });
    const concerned =
      row.authorId === actor.id ||
      facts.piece.authorId === actor.id ||
      can(actor, "piece.edit", facts.target, change.now).allowed;
    if (!concerned)
      return refuse({
        code: "not-yours",
        sentence: "Comments are settled by whoever made them, the author, or an editor of the text.",
        who: [row.authorName],
      });
    if ((row.settledAt !== null) === wanted.settled) return accept(null);
    await change.tx
      .update(comment)
      .set(wanted.settled ? { settledAt: change.now, settledBy: actor.id } : { settledAt: null, settledBy: null })
      .where(eq(comment.id, wanted.commentId));
    change.happened(
      wanted.settled ? commentSettled : commentReopened,
      {},
      { pieceId: facts.piece.id, subjectId: wanted.commentId },
    );
    await foreseePiece(change, facts);
    return accept(null);
  });
}

export const tickInput = z.object({ pieceId: z.uuid(), position: z.coerce.number().int(), done: z.stringbool() });

/** Ticks a point of the checklist, or takes the tick back. */
export function tickPoint(act: Act, wanted: z.infer<typeof tickInput>): Promise<Result<null>> {
  return write(act, async (change) => {
    const opened = await openBare(change, wanted.pieceId);
    if (!opened.ok) return opened;
    const { facts, actor } = opened.value;
    const checklist = await checklistOf(change.tx, facts.piece.id);
    const point = checklist.find((one) => one.position === wanted.position);
    if (!point) return refuse({ code: "not-found", sentence: "There is no such point." });
    const concerned =
      facts.piece.authorId === actor.id ||
      facts.target.piece?.assigneeIds.includes(actor.id) ||
      can(actor, "piece.edit", facts.target, change.now).allowed;
    if (!concerned)
      return refuse({ code: "not-yours", sentence: "The checklist is for those working on the piece here." });
    await change.tx
      .update(checklistPoint)
      .set({ doneBy: wanted.done ? actor.id : null })
      .where(and(eq(checklistPoint.pieceId, facts.piece.id), eq(checklistPoint.position, wanted.position)));
    change.happened(wanted.done ? pointTicked : pointUnticked, { words: point.words }, { pieceId: facts.piece.id });
    await foreseePiece(change, facts);
    return accept(null);
  });
}
