import { eq } from "drizzle-orm";
import { z } from "zod";
import { limitSet } from "#core/events/people.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { administering } from "../access/administer.ts";
import { notHere } from "../access/who.ts";
import { person } from "../db/schema/index.ts";
import { reassign, reassignSeat } from "../passage/routing.ts";
import { onPiece } from "../piece/input.ts";
import type { Act } from "../write.ts";

export const limitInput = z.object({
  personId: z.uuid(),
  limit: z.coerce.number().int("A whole number.").min(0, "At least 0.").max(200, "At most 200."),
});

/** Says how much at once is enough for somebody. */
export function setLimit(act: Act, { personId, limit }: z.output<typeof limitInput>): Promise<Result<null>> {
  return administering(act, "piece.route", async ({ tx, happened }) => {
    const [row] = await tx
      .select({ name: person.name, limit: person.loadLimit })
      .from(person)
      .where(eq(person.id, personId));
    if (!row) return refuse(notHere());
    if (row.limit === limit) return accept(null);
    await tx.update(person).set({ loadLimit: limit }).where(eq(person.id, personId));
    happened(limitSet, { person: row.name, limit }, { subjectId: personId, before: { limit: row.limit } });
    return accept(null);
  });
}

/** One thing that goes from who has it to somebody else. */
export const moveInput = z.object({
  ...onPiece,
  sort: z.enum(["seat", "assigned"]),
  /** Of a seat its own id. */
  id: z.uuid(),
  from: z.uuid(),
  personId: z.uuid("Choose whom."),
});
export type Moved = z.output<typeof moveInput>;

/** Passes a seat or an assignment on, by the command a piece's own page uses; everybody concerned is told. */
export function passOn(act: Act, { sort, id, from, ...on }: Moved): Promise<Result<null>> {
  return sort === "seat" ? reassignSeat(act, { ...on, seatId: id }) : reassign(act, { ...on, from });
}

/**
 * Passes several on, one after the other, each in a write of its own; of one piece more than one may go.
 *
 * @returns why some were not, in sentences
 */
export async function passAllOn(act: Act, moves: readonly Moved[]): Promise<string[]> {
  const refused: string[] = [];
  const moved = new Map<string, number>();
  for (const move of moves) {
    const before = moved.get(move.pieceId) ?? 0;
    const done = await passOn(act, { ...move, revision: move.revision + before });
    if (done.ok) moved.set(move.pieceId, before + 1);
    else refused.push(done.refusal.sentence);
  }
  return refused;
}
