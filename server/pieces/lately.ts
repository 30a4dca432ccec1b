import { and, desc, eq, inArray, ne, type SQL } from "drizzle-orm";
import { sayEvent } from "#core/events/catalogue.ts";
import { versionsThinned } from "#core/events/text.ts";
import { below } from "#core/sections/tree.ts";
import { groupBy } from "#core/words/group.ts";
import { visible } from "../access/visible.ts";
import type { Database, Queryable } from "../db/client.ts";
import { ledger, person, piece, workflowRevision } from "../db/schema/index.ts";
import type { Viewer } from "../viewer.ts";

/** So much that happened is told at once, the latest. */
const TOLD = 400;

/** What is narrowed: a section's key, a workflow's id, a person's id. */
export interface PendingWanted {
  section?: string | undefined;
  workflow?: string | undefined;
  person?: string | undefined;
}

/** From when on, as an instant in ms, and what stands together. */
export interface LatelyWanted extends PendingWanted {
  from: number;
  by: "piece" | "person";
}

/** The pieces a viewer may see, narrowed. */
export function narrowedTo(db: Queryable, viewer: Viewer, wanted: PendingWanted): SQL | undefined {
  const section = [...viewer.places.sections.values()].find((one) => one.key === wanted.section);
  const revisions = wanted.workflow
    ? db
        .select({ id: workflowRevision.id })
        .from(workflowRevision)
        .where(eq(workflowRevision.workflowId, wanted.workflow))
    : null;
  return and(
    visible(viewer),
    section ? inArray(piece.sectionId, below(viewer.places, section.id)) : undefined,
    revisions ? inArray(piece.workflowRevisionId, revisions) : undefined,
  );
}

/** What a person did, where one is named. */
export const byPerson = ({ person: id }: PendingWanted): SQL | undefined => (id ? eq(ledger.actorId, id) : undefined);

/** What happened to pieces, told in sentences, the latest first; that old versions were thinned out is nobody’s news. */
export async function happenedTo(db: Queryable, which: SQL | undefined, most: number) {
  const rows = await db
    .select({
      seq: ledger.seq,
      at: ledger.at,
      who: person.name,
      action: ledger.action,
      after: ledger.after,
      slug: piece.slug,
      title: piece.title,
    })
    .from(ledger)
    .innerJoin(piece, eq(piece.id, ledger.pieceId))
    .leftJoin(person, eq(person.id, ledger.actorId))
    .where(and(which, ne(ledger.action, versionsThinned.name)))
    .orderBy(desc(ledger.seq))
    .limit(most);
  return rows
    .map(({ action, after, ...row }) => ({ ...row, words: sayEvent(action, after) }))
    .sort((a, b) => b.at - a.at || b.seq - a.seq);
}

/** What happened from an instant on, folded by piece or by person; the latest first. */
export async function latelyPage(db: Queryable, viewer: Viewer, { from, by, ...wanted }: LatelyWanted) {
  // The latest are read and those of before are left out here: by its time the ledger has no index.
  const latest = await happenedTo(db, and(narrowedTo(db, viewer, wanted), byPerson(wanted)), TOLD + 1);
  const rows = latest.filter(({ at }) => at >= from);
  const told = rows.slice(0, TOLD);
  const folds = groupBy(told, ({ slug, who }) => (by === "piece" ? slug : (who ?? "")));
  return { folds: [...folds.values()], more: rows.length > TOLD };
}

/** When a person last looked at what happened, as an instant in ms; `null` where they never did. */
export async function lastLook(db: Queryable, viewer: Viewer): Promise<number | null> {
  const [mark] = await db.select({ at: person.latelyAt }).from(person).where(eq(person.id, viewer.id));
  return mark?.at ?? null;
}

/** Keeps when somebody last looked at what happened: their own mark, which nobody else sees. */
export async function lookedLately(db: Database, viewer: Viewer): Promise<void> {
  await db.update(person).set({ latelyAt: viewer.now }).where(eq(person.id, viewer.id));
}
