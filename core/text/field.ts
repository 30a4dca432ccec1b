import { z } from "zod";

/** What a field can hold. */
export const FIELD_TYPES = [
  "line",
  "manuscript",
  "number",
  "date",
  "choice",
  "link",
  "image",
  "file",
  "piece",
] as const;

const OPTIONS = 40;

/** One field of a kind of piece, with its guidance and limits. */
export const fieldSchema = z
  .strictObject({
    key: z.string().regex(/^[a-z0-9-]+$/),
    name: z.string().min(1).max(80),
    type: z.enum(FIELD_TYPES),
    guidance: z.string().max(300).optional(),
    required: z.boolean().default(false),
    /** Not part of what an approval binds to, and never shown to readers: internal notes. */
    free: z.boolean().optional(),
    /** For words: how many. */
    minWords: z.int().min(1).optional(),
    maxWords: z.int().min(1).optional(),
    /** For a line: characters as a reader counts them. */
    maxCharacters: z.int().min(1).max(2_000).optional(),
    /** For a number: what it is counted in, and between which bounds. */
    unit: z.string().min(1).max(20).optional(),
    least: z.number().optional(),
    most: z.number().optional(),
    /** For a choice: what there is to choose from. */
    options: z.array(z.string().min(1).max(80)).max(OPTIONS).optional(),
  })
  .refine(
    (field) => field.type !== "choice" || (field.options?.length ?? 0) > 0,
    "a choice needs something to choose from",
  )
  .refine(
    ({ least, most }) => least === undefined || most === undefined || least <= most,
    "at most is less than at least",
  );

export type Field = z.infer<typeof fieldSchema>;
