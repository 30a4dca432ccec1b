import { eq } from "drizzle-orm";
import { z } from "zod";
import { accept, type Result, refuse } from "#core/refusal.ts";
import type { Queryable } from "../db/client.ts";
import { listColumns } from "../db/schema/index.ts";
import type { Viewer } from "../viewer.ts";
import { type Act, write } from "../write.ts";

/** What may stand beside a piece in the list of them. */
export const COLUMNS = [
  "state",
  "way",
  "holder",
  "due",
  "likely",
  "wished",
  "waits",
  "kind",
  "author",
  "remarks",
] as const;
export type Column = (typeof COLUMNS)[number];

/** What stands there for who chose nothing. */
const USUAL: readonly Column[] = ["state", "way", "holder", "due"];

export const keepColumnsInput = z.object({
  columns: z
    .array(z.enum(COLUMNS))
    .max(COLUMNS.length)
    .refine((all) => new Set(all).size === all.length, "Each column stands once.")
    .default([]),
});

/** Keeps which columns somebody's list of pieces has, in their order; with none it has the usual ones again. */
export function keepColumns(act: Act, { columns }: z.output<typeof keepColumnsInput>): Promise<Result<null>> {
  return write(act, async ({ tx, actor }) => {
    if (!actor) return refuse({ code: "not-granted", sentence: "Nobody is signed in." });
    if (columns.length === 0) await tx.delete(listColumns).where(eq(listColumns.personId, actor.id));
    else
      await tx.insert(listColumns).values({ personId: actor.id, columns }).onDuplicateKeyUpdate({ set: { columns } });
    return accept(null);
  });
}

/** The columns of somebody's list of pieces, in their order. */
export async function columnsOf(db: Queryable, viewer: Viewer): Promise<readonly Column[]> {
  const [row] = await db.select().from(listColumns).where(eq(listColumns.personId, viewer.id));
  const known = (row?.columns ?? []).filter((one): one is Column => COLUMNS.some((key) => key === one));
  return known.length > 0 ? known : USUAL;
}
