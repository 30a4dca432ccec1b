import { desc, eq } from "drizzle-orm";
import { can, PUBLICATION } from "#core/access/decide.ts";
import { hashOf } from "#core/ledger/chain.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { readWorkflow, unknownPrincipals, type Workflow } from "#core/workflow/document.ts";
import { restingPlace } from "#core/workflow/moves.ts";
import { newId } from "../db/schema/columns.ts";
import { person, publication, role, section, workflow, workflowRevision } from "../db/schema/index.ts";
import { loadPlaces } from "../sections/places.ts";
import { type Act, type Change, write } from "../write.ts";

export const WORKFLOW_BYTES = 1_000_000;

const notGranted = () => refuse({ code: "not-granted", sentence: "No grant of yours lets you configure workflows." });

/**
 * Brings in a workflow document: a new workflow, or a new revision of the one with its key. Pieces
 * in flight stay on the revision they began with.
 *
 * @param source the file's text, JSON by `elenco.workflow/1`
 */
export function importWorkflow(
  act: Act,
  source: string,
): Promise<Result<{ key: string; revision: number; changed: boolean }>> {
  return write<{ key: string; revision: number; changed: boolean }>(act, async (change) => {
    if (!mayConfigure(change)) return notGranted();
    const read = await readSource(change, source);
    if (!read.ok) return read;
    const document = read.value;
    const { tx, now } = change;
    const [known] = await tx.select().from(workflow).where(eq(workflow.key, document.key)).for("update");
    const workflowId = known?.id ?? newId();
    if (!known) await tx.insert(workflow).values({ id: workflowId, key: document.key, name: document.name });
    const [last] = await tx
      .select()
      .from(workflowRevision)
      .where(eq(workflowRevision.workflowId, workflowId))
      .orderBy(desc(workflowRevision.number))
      .limit(1);
    if (last && hashOf(last.document) === hashOf(document))
      return accept({ key: document.key, revision: last.number, changed: false });

    const revisionId = newId();
    const number = (last?.number ?? 0) + 1;
    await tx
      .insert(workflowRevision)
      .values({ id: revisionId, workflowId, number, document, createdAt: now, createdBy: act.personId });
    await tx
      .update(workflow)
      .set({ name: document.name, currentRevisionId: revisionId, revision: (known?.revision ?? 0) + 1 })
      .where(eq(workflow.id, workflowId));
    change.record({
      action: "workflow.imported",
      subjectId: workflowId,
      before: last ? { revision: last.number, hash: hashOf(last.document) } : null,
      after: { key: document.key, revision: number, hash: hashOf(document) },
    });
    return accept({ key: document.key, revision: number, changed: true });
  });
}

/**
 * Chooses the workflow of a section, or of the whole publication.
 *
 * @param binding `sectionId` null is the publication; `workflowId` null inherits from above
 */
export function bindWorkflow(
  act: Act,
  binding: { sectionId: string | null; workflowId: string | null },
): Promise<Result<null>> {
  return write(act, async (change) => {
    if (!mayConfigure(change)) return notGranted();
    const { tx } = change;
    const places = await loadPlaces(tx);
    const [chosen] = binding.workflowId
      ? await tx.select().from(workflow).where(eq(workflow.id, binding.workflowId))
      : [];
    if (binding.workflowId && !chosen)
      return refuse({ code: "unknown-workflow", sentence: "There is no such workflow." });
    const place = binding.sectionId ? places.sections.get(binding.sectionId) : null;
    if (place === undefined) return refuse({ code: "unknown-section", sentence: "There is no such section." });
    const before = place ? place.workflowId : places.workflowId;
    if (before === binding.workflowId) return accept(null);
    if (place)
      await tx
        .update(section)
        .set({ workflowId: binding.workflowId, revision: place.revision + 1 })
        .where(eq(section.id, place.id));
    else
      await tx
        .update(publication)
        .set({ workflowId: binding.workflowId })
        .where(eq(publication.id, places.publicationId));
    change.record({
      action: "workflow.bound",
      subjectId: place?.id ?? places.publicationId,
      before: { workflowId: before },
      after: { workflowId: binding.workflowId, key: chosen?.key ?? null },
    });
    return accept(null);
  });
}

function mayConfigure(change: Change): boolean {
  return change.actor !== null && can(change.actor, "workflow.edit", PUBLICATION, change.now).allowed;
}

async function readSource(change: Change, source: string): Promise<Result<Workflow>> {
  const unusable = (missing: string[]) =>
    refuse({ code: "malformed", field: "file", sentence: "This is not a workflow Elenco can use.", missing });
  if (source.length > WORKFLOW_BYTES) return unusable([`The file is larger than ${WORKFLOW_BYTES / 1_000_000} MB.`]);
  let json: unknown;
  try {
    json = JSON.parse(source);
  } catch (error) {
    return unusable([`The file is not JSON: ${(error as Error).message}.`]);
  }
  const read = readWorkflow(json);
  if ("problems" in read) return unusable(read.problems.map(({ path, message }) => `${path}: ${message}`));
  const roles = await change.tx.select({ key: role.key }).from(role);
  const people = await change.tx.select({ key: person.key }).from(person).where(eq(person.active, true));
  const strangers = unknownPrincipals(read.workflow, keys(roles), keys(people));
  if (strangers.length > 0) return unusable(strangers.map(({ path, message }) => `${path}: ${message}`));
  try {
    for (const state of read.workflow.states) restingPlace(read.workflow, state.key);
  } catch (error) {
    return unusable([`${(error as Error).message}.`]);
  }
  return accept(read.workflow);
}

const keys = (rows: { key: string }[]) => new Set(rows.map((row) => row.key));
