import { z } from "zod";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { FIELD_TYPES, type Field, fieldSchema } from "#core/text/field.ts";
import { freeKey } from "#core/words/keys.ts";

const number = z.union([z.literal("").transform(() => undefined), z.coerce.number()]).optional();
/** Fields as their editor sends them, in JSON; a field without a key is new. */
export const fieldsInput = z
  .string()
  .transform((text, issue) => {
    try {
      return JSON.parse(text) as unknown;
    } catch {
      issue.addIssue({ code: "custom", message: "The fields did not arrive whole." });
      return z.NEVER;
    }
  })
  .pipe(
    z.array(
      z.object({
        key: z.string().max(80),
        name: z.string().trim(),
        type: z.enum(FIELD_TYPES),
        guidance: z
          .string()
          .trim()
          .transform((text) => text || undefined)
          .optional(),
        required: z.boolean(),
        free: z.boolean().optional(),
        minWords: number,
        maxWords: number,
        maxCharacters: number,
        least: number,
        most: number,
        unit: z.string().trim().optional(),
        options: z
          .array(z.string())
          .transform((all) => all.map((one) => one.trim()).filter((one) => one !== ""))
          .optional(),
      }),
      "The fields did not arrive whole.",
    ),
  );

export type FieldGiven = z.output<typeof fieldsInput>[number];

/**
 * Reads fields that somebody arranged: each by its type, none twice.
 *
 * @param of whose they are, for what is said; and how many there are at least and at most
 */
export function readFields(
  given: readonly FieldGiven[],
  { of, least, most }: { of: string; least: number; most: number },
): Result<Field[]> {
  const wrong = (sentence: string) => refuse({ code: "bad-fields", field: "fields", sentence });
  if (given.length < least) return wrong(`${of} has at least one field.`);
  if (given.length > most) return wrong(`${of} has at most ${most} fields.`);
  const fields: Field[] = [];
  for (const one of given) {
    const key = one.key || freeKey(one.name, fields, "field");
    const parsed = fieldSchema.safeParse(limitedByType({ ...one, key }));
    if (!parsed.success)
      return wrong(`${one.name || "A field without a name"}: ${parsed.error.issues[0]?.message ?? "not understood"}.`);
    const { minWords, maxWords, name } = parsed.data;
    if (minWords && maxWords && maxWords < minWords)
      return wrong(`${name}: at most ${maxWords} words is less than at least ${minWords}.`);
    if (fields.some((field) => field.key === key || field.name === name))
      return wrong(`There are two fields called ${name}.`);
    fields.push(parsed.data);
  }
  return accept(fields);
}

/** The limits a field of a type can have. */
const LIMITS: Partial<Record<Field["type"], (keyof Field)[]>> = {
  line: ["maxWords", "maxCharacters"],
  manuscript: ["minWords", "maxWords"],
  number: ["unit", "least", "most"],
  choice: ["options"],
};

/** A field without the limits that belong to another type, which it was before. */
function limitedByType(field: FieldGiven): unknown {
  const { key, name, type, guidance, required, free } = field;
  const kept = (LIMITS[type] ?? []).map((limit) => [limit, field[limit]]);
  return { key, name, type, guidance, required, ...(free && { free }), ...Object.fromEntries(kept) };
}
