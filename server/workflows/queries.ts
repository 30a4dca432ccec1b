import { and, asc, count, desc, eq, isNotNull, sql } from "drizzle-orm";
import type { People } from "#core/people/document.ts";
import { appliedWorkflow, type Binding, sayBinding } from "#core/sections/tree.ts";
import { localDate } from "#core/time/local.ts";
import { check } from "#core/workflow/checking/check.ts";
import { identity } from "#core/workflow/checking/mend.ts";
import type { Workflow } from "#core/workflow/document.ts";
import { visible } from "../access/visible.ts";
import type { Queryable } from "../db/client.ts";
import {
  kind,
  person,
  piece,
  workflow,
  workflowAdoption,
  workflowBinding,
  workflowCopy,
  workflowRevision,
} from "../db/schema/index.ts";
import { loadDocuments } from "../piece/documents.ts";
import type { Places } from "../sections/places.ts";
import type { Viewer } from "../viewer.ts";
import { IDLE } from "./copies.ts";
import { loadPeople } from "./staff.ts";

/** Pieces at a state: all in flight the viewer may see, and the late ones among them. */
export interface Here {
  count: number;
  late: number;
}

export interface WorkflowRow {
  id: string;
  key: string;
  name: string;
  /** Number of the revision in use; null while none is. */
  revision: number | null;
  document: Workflow;
  /** By the key of the state, over all revisions. */
  here: Record<string, Here>;
  /** Where it applies, in words. */
  places: string[];
  retired: boolean;
  /** Who is changing it, or null. */
  changing: string | null;
}

/** Every workflow, in use or being made, with what travels on it; the retired last. */
export async function listWorkflows(db: Queryable, viewer: Viewer): Promise<WorkflowRow[]> {
  const [rows, counts, kinds] = await Promise.all([
    db
      .select({
        id: workflow.id,
        key: workflow.key,
        name: workflow.name,
        revisionId: workflowRevision.id,
        number: workflowRevision.number,
        retiredAt: workflow.retiredAt,
        copy: workflowCopy.document,
        holder: person.name,
      })
      .from(workflow)
      .leftJoin(workflowRevision, eq(workflowRevision.id, workflow.currentRevisionId))
      .leftJoin(workflowCopy, eq(workflowCopy.workflowId, workflow.id))
      .leftJoin(person, eq(person.id, workflowCopy.holderId))
      .orderBy(sql`${workflow.retiredAt} IS NOT NULL`, workflow.name),
    countHere(db, viewer),
    kindNames(db),
  ]);
  const documents = await loadDocuments(
    db,
    rows.flatMap((row) => row.revisionId ?? []),
  );
  return rows.flatMap((row) => {
    const document = row.revisionId ? documents.get(row.revisionId) : row.copy;
    if (!document) return [];
    const bindings = viewer.places.bindings.filter((one) => one.workflowId === row.id);
    return {
      id: row.id,
      key: row.key,
      name: row.name,
      revision: row.number,
      document,
      here: counts.get(row.id) ?? {},
      places: bindings.map((one) => sayBinding(viewer.places, one, kinds)),
      retired: row.retiredAt !== null,
      changing: row.copy ? row.holder : null,
    };
  });
}

async function countHere(db: Queryable, viewer: Viewer): Promise<Map<string, Record<string, Here>>> {
  const rows = await db
    .select({
      workflowId: workflowRevision.workflowId,
      state: piece.stateKey,
      count: count(),
      late: sql<string>`sum(${piece.dueAt} < ${piece.dueAt.mapToDriverValue(viewer.now)})`,
    })
    .from(piece)
    .innerJoin(workflowRevision, eq(workflowRevision.id, piece.workflowRevisionId))
    .where(and(eq(piece.inFlight, true), visible(viewer)))
    .groupBy(workflowRevision.workflowId, piece.stateKey);
  const counts = new Map<string, Record<string, Here>>();
  for (const { workflowId, state, count: here, late } of rows)
    counts.set(workflowId, { ...counts.get(workflowId), [state]: { count: here, late: Number(late ?? 0) } });
  return counts;
}

/** A workflow in the studio: what is in use, what is being changed, by whom, and who there is. */
export interface Studio {
  id: string;
  key: string;
  name: string;
  inUse: { revision: number; document: Workflow; at: number; by: string | null; acknowledged: string[] } | null;
  /** The working copy; null where nobody is changing it. */
  copy: {
    revision: number;
    document: Workflow;
    holder: string;
    mine: boolean;
    touchedAt: number;
    idle: boolean;
  } | null;
  planned: { at: number; by: string; held: string | null } | null;
  here: Record<string, Here>;
  places: string[];
  retired: boolean;
  people: People;
}

/** Everything the studio shows of one workflow; null when there is none of that key. */
export async function openStudio(db: Queryable, viewer: Viewer, key: string): Promise<Studio | null> {
  const [row] = await db.select().from(workflow).where(eq(workflow.key, key));
  if (!row) return null;
  const [[revision], [copy], [planned], counts, kinds, people] = await Promise.all([
    db
      .select({ revision: workflowRevision, by: person.name })
      .from(workflowRevision)
      .leftJoin(person, eq(person.id, workflowRevision.createdBy))
      .where(eq(workflowRevision.id, row.currentRevisionId ?? "")),
    db
      .select({ copy: workflowCopy, holder: person.name })
      .from(workflowCopy)
      .innerJoin(person, eq(person.id, workflowCopy.holderId))
      .where(eq(workflowCopy.workflowId, row.id)),
    db
      .select({
        at: workflowAdoption.at,
        status: workflowAdoption.status,
        reason: workflowAdoption.reason,
        by: person.name,
      })
      .from(workflowAdoption)
      .innerJoin(person, eq(person.id, workflowAdoption.plannedBy))
      .where(eq(workflowAdoption.workflowId, row.id))
      .orderBy(desc(workflowAdoption.id))
      .limit(1),
    countHere(db, viewer),
    kindNames(db),
    loadPeople(db, viewer.now),
  ]);
  const bindings = viewer.places.bindings.filter((one) => one.workflowId === row.id);
  return {
    id: row.id,
    key: row.key,
    name: row.name,
    inUse: revision
      ? {
          revision: revision.revision.number,
          document: revision.revision.document,
          at: revision.revision.createdAt,
          by: revision.by,
          acknowledged: sayAcknowledged(revision.revision, await loadPeople(db, viewer.now)),
        }
      : null,
    copy: copy
      ? {
          revision: copy.copy.revision,
          document: copy.copy.document,
          holder: copy.holder,
          mine: copy.copy.holderId === viewer.id,
          touchedAt: copy.copy.touchedAt,
          idle: copy.copy.touchedAt + IDLE <= viewer.now,
        }
      : null,
    planned:
      planned?.status === "planned" || planned?.status === "held"
        ? { at: planned.at, by: planned.by, held: planned.status === "held" ? planned.reason : null }
        : null,
    here: counts.get(row.id) ?? {},
    places: bindings.map((one) => sayBinding(viewer.places, one, kinds)),
    retired: row.retiredAt !== null,
    people,
  };
}

/** One workflow's document for export, by key: the one in use, or while none is the working copy. */
export async function exportWorkflow(db: Queryable, key: string): Promise<Workflow | null> {
  const [row] = await db
    .select({ revisionId: workflow.currentRevisionId, copy: workflowCopy.document })
    .from(workflow)
    .leftJoin(workflowCopy, eq(workflowCopy.workflowId, workflow.id))
    .where(eq(workflow.key, key));
  if (!row?.revisionId) return row?.copy ?? null;
  return (await loadDocuments(db, [row.revisionId])).get(row.revisionId) ?? null;
}

/** A place in the list of where workflows apply. */
export interface BindingRow {
  scope: "publication" | "section" | "kind";
  id: string;
  name: string;
  depth: number;
  /** Set here, or null where it is inherited. */
  workflowId: string | null;
  /** What applies, and the place it comes from; null where nothing does. */
  applies: { workflow: string; from: string } | null;
  /** Workflows set nearer that are not valid today, in words. */
  notValid: string[];
}

/** The publication, its tree of sections and its kinds with the workflow that applies to each, and where that was set. */
export async function listBindings(db: Queryable, viewer: Viewer): Promise<BindingRow[]> {
  const { places } = viewer;
  const kinds = await db.select({ id: kind.id, name: kind.name }).from(kind).orderBy(kind.name);
  const names = new Map(kinds.map((one) => [one.id, one.name]));
  const today = localDate(viewer.now, viewer.calendar.timeZone);
  const set = (scope: Binding["scope"], id: string) =>
    places.bindings.find((one) => one.scope === scope && one.scopeId === id)?.workflowId ?? null;
  const row = (scope: BindingRow["scope"], id: string, name: string, depth: number): BindingRow => {
    const applied = appliedWorkflow(places, scope === "section" ? id : null, scope === "kind" ? id : null, today);
    return {
      scope,
      id,
      name,
      depth,
      workflowId: set(scope, id),
      applies: applied && { workflow: applied.binding.workflow, from: sayBinding(places, applied.binding, names) },
      notValid: (applied?.passedBy ?? []).map((one) => `${one.workflow} ${sayValidity(one)}`),
    };
  };
  return [
    row("publication", places.publicationId, places.name, 0),
    ...sectionTree(places).map(({ id, name, depth }) => row("section", id, name, depth)),
    ...kinds.map((one) => row("kind", one.id, one.name, 0)),
  ];
}

/** The sections from the top down, each with how deep it lies. */
function sectionTree(places: Places): { id: string; name: string; depth: number }[] {
  const under = (parentId: string | null, depth: number): { id: string; name: string; depth: number }[] =>
    [...places.sections.values()]
      .filter((one) => one.parentId === parentId)
      .flatMap((one) => [{ id: one.id, name: one.name, depth }, ...under(one.id, depth + 1)]);
  return under(null, 1);
}

/** When a workflow is valid, in words: `from 2026-12-01`, `until 2026-12-31`. */
export function sayValidity({ validFrom, validUntil }: Pick<Binding, "validFrom" | "validUntil">): string {
  return [validFrom && `from ${validFrom}`, validUntil && `until ${validUntil}`].filter(Boolean).join(" ");
}

/** The pieces a workflow was chosen for one by one, that the viewer may see. */
export function pieceBindings(db: Queryable, viewer: Viewer) {
  return db
    .select({ slug: piece.slug, title: piece.title, workflow: workflow.name })
    .from(workflowBinding)
    .innerJoin(piece, eq(piece.id, workflowBinding.scopeId))
    .innerJoin(workflow, eq(workflow.id, workflowBinding.workflowId))
    .where(and(eq(workflowBinding.scope, "piece"), isNotNull(piece.id), visible(viewer)))
    .orderBy(piece.title)
    .limit(50);
}

async function kindNames(db: Queryable): Promise<Map<string, string>> {
  const kinds = await db.select({ id: kind.id, name: kind.name }).from(kind);
  return new Map(kinds.map((one) => [one.id, one.name]));
}

/** Warnings a revision was put in use with, in words as the checker says them now; those kept as sentences say themselves. */
function sayAcknowledged({ acknowledged, document }: typeof workflowRevision.$inferSelect, people: People): string[] {
  if (acknowledged.length === 0) return [];
  const found = new Map(check(document, people).map((finding) => [identity(finding), finding.message]));
  return acknowledged.flatMap((one) => found.get(one) ?? (one.endsWith(".") ? one : []));
}

/** The workflows there are, by name. */
export const workflowNames = (db: Queryable) =>
  db.select({ key: workflow.id, name: workflow.name }).from(workflow).orderBy(asc(workflow.name));
