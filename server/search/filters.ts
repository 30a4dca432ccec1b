import { asc, count, eq, or } from "drizzle-orm";
import { z } from "zod";
import { can, PUBLICATION } from "#core/access/decide.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import type { Queryable } from "../db/client.ts";
import { newId } from "../db/schema/columns.ts";
import { savedFilter } from "../db/schema/index.ts";
import type { Viewer } from "../viewer.ts";
import { type Act, write } from "../write.ts";

/** So many one person keeps at most; the frame has no room for more. */
const MOST = 20;

export const keepFilterInput = z.object({
  name: z.string().trim().min(1, "Give it a name.").max(40, "At most 40 characters fit."),
  query: z.string().min(1, "Nothing is narrowed yet.").max(1000, "This is too long to be kept."),
  shared: z.stringbool().default(false),
});

/** Keeps a way of narrowing the pieces, for oneself or for everybody; what each sees by it is what they may see. */
export function keepFilter(act: Act, wanted: z.output<typeof keepFilterInput>): Promise<Result<{ id: string }>> {
  return write(act, async ({ tx, actor, now }) => {
    if (!actor) return refuse({ code: "not-granted", sentence: "Nobody is signed in." });
    const [kept] = await tx.select({ all: count() }).from(savedFilter).where(eq(savedFilter.ownerId, actor.id));
    if ((kept?.all ?? 0) >= MOST)
      return refuse({ code: "too-many", field: "name", sentence: `You keep ${MOST} already; let one go first.` });
    const id = newId();
    await tx.insert(savedFilter).values({ id, ownerId: actor.id, createdAt: now, ...wanted });
    return accept({ id });
  });
}

export const dropFilterInput = z.object({ id: z.uuid() });

/** Lets a kept filter go: one's own, or for who runs the publication a shared one. */
export function dropFilter(act: Act, { id }: z.output<typeof dropFilterInput>): Promise<Result<null>> {
  return write(act, async ({ tx, actor, now }) => {
    const [found] = await tx.select().from(savedFilter).where(eq(savedFilter.id, id)).for("update");
    const own = found?.ownerId === actor?.id;
    if (!found || !actor || (!own && !found.shared))
      return refuse({ code: "not-found", sentence: "There is no such filter." });
    if (!own && !can(actor, "publication.edit", PUBLICATION, now).allowed)
      return refuse({ code: "not-granted", sentence: "It is shared by somebody else; they can let it go." });
    await tx.delete(savedFilter).where(eq(savedFilter.id, id));
    return accept(null);
  });
}

/** The filters in somebody's frame: their own and those that are shared, by name. */
export async function filtersOf(db: Queryable, viewer: Viewer) {
  const rows = await db
    .select()
    .from(savedFilter)
    .where(or(eq(savedFilter.ownerId, viewer.id), eq(savedFilter.shared, true)))
    .orderBy(asc(savedFilter.name))
    .limit(3 * MOST);
  const leads = can(viewer, "publication.edit", PUBLICATION, viewer.now).allowed;
  return rows.map(({ id, name, query, shared, ownerId }) => ({
    id,
    name,
    query,
    shared,
    droppable: ownerId === viewer.id || leads,
  }));
}
