import { z } from "zod";
import type { Block } from "./block.ts";
import type { Value } from "./fields.ts";

/** What a save sends of a manuscript: the blocks between what both texts begin and end with. */
export const spliceSchema = z.strictObject({
  /** How many blocks both begin with. */
  head: z.int().min(0),
  /** How many blocks both end with. */
  tail: z.int().min(0),
  blocks: z.array(z.custom<Block>((block) => typeof block === "object" && block !== null)),
});

/** What a save sends: the title and the fields that changed, a manuscript by its splice; null empties a field. */
export const patchSchema = z.strictObject({
  title: z.string().optional(),
  fields: z.record(
    z.string(),
    z.union([z.strictObject({ value: z.custom<Value>() }), z.strictObject({ splice: spliceSchema }), z.null()]),
  ),
});
