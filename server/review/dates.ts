import { and, eq, isNull } from "drizzle-orm";
import { piece, round } from "../db/schema/index.ts";
import { schedule } from "../tasks/schedule.ts";
import type { Change } from "../write.ts";

/** Gives a piece, and its open review, another due date; what the review does by the clock is counted anew. */
export async function moveDue({ tx, now }: Change, pieceId: string, dueAt: number | null): Promise<void> {
  await tx.update(piece).set({ dueAt }).where(eq(piece.id, pieceId));
  const open = and(eq(round.pieceId, pieceId), isNull(round.closedAt));
  const [current] = await tx.select({ id: round.id }).from(round).where(open);
  if (!current) return;
  await tx.update(round).set({ dueAt }).where(eq(round.id, current.id));
  await schedule(tx, { kind: "reminder", subject: current.id, dueAt: now });
}
