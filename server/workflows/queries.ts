import { and, count, eq, notInArray } from "drizzle-orm";
import { can, PUBLICATION } from "#core/access/decide.ts";
import type { Workflow } from "#core/workflow/document.ts";
import { visible } from "../access/visible.ts";
import type { Queryable } from "../db/client.ts";
import { piece, workflow, workflowRevision } from "../db/schema/index.ts";
import { boundWorkflow, type Places, pathName } from "../sections/places.ts";
import type { Viewer } from "../viewer.ts";
import { loadDocuments } from "./documents.ts";

/** Whether a viewer sees the place Workflows. */
export const mayConfigure = (viewer: Viewer) => can(viewer, "workflow.edit", PUBLICATION, viewer.now).allowed;

export interface WorkflowRow {
  id: string;
  key: string;
  name: string;
  revision: number;
  document: Workflow;
  /** Pieces in flight the viewer may see, by the key of their state, over all revisions. */
  here: Record<string, number>;
  /** Where it applies, in words. */
  places: string[];
}

/** Every workflow in its present revision, with what travels on it. */
export async function listWorkflows(db: Queryable, viewer: Viewer): Promise<WorkflowRow[]> {
  const [rows, counts] = await Promise.all([
    db
      .select({
        id: workflow.id,
        key: workflow.key,
        name: workflow.name,
        revisionId: workflowRevision.id,
        number: workflowRevision.number,
      })
      .from(workflow)
      .innerJoin(workflowRevision, eq(workflowRevision.id, workflow.currentRevisionId))
      .orderBy(workflow.name),
    db
      .select({ workflowId: workflowRevision.workflowId, state: piece.stateKey, here: count() })
      .from(piece)
      .innerJoin(workflowRevision, eq(workflowRevision.id, piece.workflowRevisionId))
      .where(and(visible(viewer), notInArray(piece.stateKind, ["live", "closed"])))
      .groupBy(workflowRevision.workflowId, piece.stateKey),
  ]);
  const documents = await loadDocuments(
    db,
    rows.map((row) => row.revisionId),
  );
  return rows.map((row) => ({
    id: row.id,
    key: row.key,
    name: row.name,
    revision: row.number,
    document: documents.get(row.revisionId) as Workflow,
    here: Object.fromEntries(counts.filter((one) => one.workflowId === row.id).map((one) => [one.state, one.here])),
    places: placesOf(viewer.places, row.id),
  }));
}

/** One workflow's document for export, by key; null when there is none. */
export async function exportWorkflow(db: Queryable, key: string): Promise<Workflow | null> {
  const [row] = await db.select({ revisionId: workflow.currentRevisionId }).from(workflow).where(eq(workflow.key, key));
  if (!row?.revisionId) return null;
  return (await loadDocuments(db, [row.revisionId])).get(row.revisionId) ?? null;
}

export interface SectionBinding {
  id: string | null;
  name: string;
  depth: number;
  /** Set here, or null where it is inherited. */
  workflowId: string | null;
  applies: { workflowId: string; from: string } | null;
}

/** The tree of sections with the workflow that applies in each, and where that was set. */
export function listBindings(viewer: Viewer): SectionBinding[] {
  const { places } = viewer;
  const rows: SectionBinding[] = [
    {
      id: null,
      name: places.name,
      depth: 0,
      workflowId: places.workflowId,
      applies: places.workflowId ? { workflowId: places.workflowId, from: places.name } : null,
    },
  ];
  const walk = (parentId: string | null, depth: number) => {
    for (const one of places.sections.values()) {
      if (one.parentId !== parentId) continue;
      const bound = boundWorkflow(places, one.id);
      rows.push({
        id: one.id,
        name: one.name,
        depth,
        workflowId: one.workflowId,
        applies: bound && { workflowId: bound.workflowId, from: bound.from?.name ?? places.name },
      });
      walk(one.id, depth + 1);
    }
  };
  walk(null, 1);
  return rows;
}

function placesOf(places: Places, workflowId: string): string[] {
  const sections = [...places.sections.values()]
    .filter((one) => one.workflowId === workflowId)
    .map((one) => pathName(places, one.id));
  return places.workflowId === workflowId ? ["everywhere else", ...sections] : sections;
}
