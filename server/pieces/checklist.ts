import { and, eq } from "drizzle-orm";
import { z } from "zod";
import { can } from "#core/access/decide.ts";
import { pointTicked, pointUnticked } from "#core/events/pieces.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { checklistPoint } from "../db/schema/index.ts";
import { checklistOf } from "../piece/facts.ts";
import { openBare } from "../piece/open.ts";
import { foreseePiece } from "../release/foresee.ts";
import { type Act, write } from "../write.ts";

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
