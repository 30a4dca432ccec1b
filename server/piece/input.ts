import { z } from "zod";

/** What every command on a piece takes: which one, and its revision as the person saw it. */
export const onPiece = { pieceId: z.uuid(), revision: z.coerce.number().int() };

/** Words somebody must write. @param missing what to say where they did not */
export const text = (missing: string, most: number) =>
  z.string().trim().min(1, missing).max(most, `At most ${most} characters fit.`);

/** A note that may be left out. */
export const note = z.string().max(4_000, "At most 4000 characters fit.").default("");

/** Something a form sends as JSON, in one field. */
export const inJson = <S extends z.ZodType>(schema: S) =>
  z
    .string()
    .max(100_000, "That is too much at once.")
    .transform((text, issue) => {
      try {
        return JSON.parse(text) as unknown;
      } catch {
        issue.addIssue({ code: "custom", message: "This did not arrive whole." });
        return z.NEVER;
      }
    })
    .pipe(schema);
