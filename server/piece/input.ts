import { z } from "zod";

/** What every command on a piece takes: which one, and its revision as the person saw it. */
export const onPiece = { pieceId: z.uuid(), revision: z.coerce.number().int() };

/** Words somebody must write. @param missing what to say where they did not */
export const text = (missing: string, most: number) =>
  z.string().trim().min(1, missing).max(most, `At most ${most} characters fit.`);

/** A note that may be left out. */
export const note = z.string().max(4_000, "At most 4000 characters fit.").default("");
