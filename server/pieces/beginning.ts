import { inArray } from "drizzle-orm";
import { can } from "#core/access/decide.ts";
import { appliedWorkflow, lineage, pathName } from "#core/sections/tree.ts";
import { localDate } from "#core/time/local.ts";
import { stateOf } from "#core/workflow/document.ts";
import { legsFrom } from "#core/workflow/legs.ts";
import type { Queryable } from "../db/client.ts";
import { workflow } from "../db/schema/index.ts";
import { loadDocuments } from "../piece/documents.ts";
import type { Viewer } from "../viewer.ts";

/** The sections and kinds a viewer may begin a piece in. */
export function beginnings({ places, kinds, ...viewer }: Viewer) {
  const may = (sectionId: string, kindId: string) =>
    can(
      viewer,
      "piece.create",
      { sectionIds: lineage(places, sectionId).map((one) => one.id), kindId, piece: null },
      viewer.now,
    ).allowed;
  const sections = [...places.sections.values()]
    .filter((one) => kinds.some((k) => may(one.id, k.id)))
    .map((one) => ({ id: one.id, name: pathName(places, one.id) }))
    .sort((a, b) => a.name.localeCompare(b.name));
  return {
    kinds: kinds
      .filter((k) => sections.some((one) => may(one.id, k.id)))
      .map(({ id, key, name, fields }) => ({ id, key, name, fields })),
    sections,
  };
}

/** A line a new piece would travel: its stops from the first on, with what work there may take. */
export interface LineAhead {
  name: string;
  stops: { key: string; name: string; take: string | null }[];
}

/** Which line a piece would travel, by kind and section as `kindId sectionId`, and the lines by their ids. */
export async function linesAhead(db: Queryable, viewer: Viewer) {
  const { kinds, sections } = beginnings(viewer);
  const today = localDate(viewer.now, viewer.calendar.timeZone);
  const of: Record<string, string> = {};
  for (const kind of kinds)
    for (const section of sections) {
      const applied = appliedWorkflow(viewer.places, section.id, kind.id, today);
      if (applied) of[`${kind.id} ${section.id}`] = applied.binding.workflowId;
    }
  const ids = [...new Set(Object.values(of))];
  if (ids.length === 0) return { lines: {}, of };
  const rows = await db
    .select({ id: workflow.id, name: workflow.name, revisionId: workflow.currentRevisionId })
    .from(workflow)
    .where(inArray(workflow.id, ids));
  const documents = await loadDocuments(
    db,
    rows.flatMap((row) => row.revisionId ?? []),
  );
  const lines: Record<string, LineAhead> = {};
  for (const { id, name, revisionId } of rows) {
    const document = documents.get(revisionId ?? "");
    if (!document) continue;
    const legs = legsFrom(document, stateOf(document, document.initial));
    lines[id] = { name, stops: legs.map(({ key, take }) => ({ key, take, name: stateOf(document, key).name })) };
  }
  return { lines, of };
}
