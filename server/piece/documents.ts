import { eq, inArray } from "drizzle-orm";
import type { Workflow } from "#core/workflow/document.ts";
import type { Queryable } from "../db/client.ts";
import { workflow, workflowRevision } from "../db/schema/index.ts";

/** Revisions never change, so a node may keep those it has read; the oldest go first. */
const kept = new Map<string, Workflow>();
const KEEP = 200;

/** Workflow documents by the id of their revision, in at most one statement. */
export async function loadDocuments(db: Queryable, revisionIds: readonly string[]): Promise<Map<string, Workflow>> {
  const wanted = [...new Set(revisionIds)];
  const missing = wanted.filter((id) => !kept.has(id));
  if (missing.length > 0) {
    const rows = await db.select().from(workflowRevision).where(inArray(workflowRevision.id, missing));
    for (const row of rows) kept.set(row.id, row.document);
  }
  const documents = new Map(wanted.map((id) => [id, kept.get(id) as Workflow]));
  for (const id of [...kept.keys()].slice(0, Math.max(0, kept.size - KEEP))) kept.delete(id);
  return documents;
}

/** The ids of all revisions of a workflow, by its key: a statement to stand within another. */
export const revisionsOf = (db: Queryable, key: string) =>
  db
    .select({ id: workflowRevision.id })
    .from(workflowRevision)
    .innerJoin(workflow, eq(workflow.id, workflowRevision.workflowId))
    .where(eq(workflow.key, key));
