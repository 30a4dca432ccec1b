import { and, count, eq } from "drizzle-orm";
import { workflowBound } from "#core/events/pieces.ts";
import { workflowDeleted, workflowRetired, workflowRevived } from "#core/events/workflows.ts";
import { accept, type Refusal, type Result, refuse } from "#core/refusal.ts";
import type { BindingScope } from "#core/sections/tree.ts";
import { newId } from "../db/schema/columns.ts";
import {
  kind,
  piece,
  workflow,
  workflowAdoption,
  workflowBinding,
  workflowCopy,
  workflowRevision,
} from "../db/schema/index.ts";
import { loadPlaces, type Places } from "../sections/places.ts";
import type { Act, Change } from "../write.ts";
import { configuring, lockWorkflow } from "./copies.ts";

/** A place and the workflow chosen for it; null inherits what is set farther away. */
export interface Bind {
  scope: Exclude<BindingScope, "piece">;
  scopeId: string;
  workflowId: string | null;
}

/** Chooses the workflow of the publication, a section or a kind. New pieces begin on it; those in flight stay on theirs. */
export function bindWorkflow(act: Act, wanted: Bind): Promise<Result<null>> {
  return configuring(act, async (change) => {
    const places = await loadPlaces(change.tx);
    const unknown = await refuseUnknown(change, wanted, places);
    if (unknown) return refuse(unknown);
    const at = and(eq(workflowBinding.scope, wanted.scope), eq(workflowBinding.scopeId, wanted.scopeId));
    const [before] = await change.tx.select().from(workflowBinding).where(at).for("update");
    if ((before?.workflowId ?? null) === wanted.workflowId) return accept(null);
    if (before) await change.tx.delete(workflowBinding).where(at);
    const { scope, scopeId, workflowId } = wanted;
    if (workflowId) await change.tx.insert(workflowBinding).values({ id: newId(), scope, scopeId, workflowId });
    change.happened(
      workflowBound,
      { scope, workflowId },
      { subjectId: scopeId, before: { workflowId: before?.workflowId ?? null } },
    );
    return accept(null);
  });
}

/**
 * Retires a workflow: pieces in flight finish on it, no new one begins, and the places it was set
 * for inherit. Where nothing would apply then, it is refused.
 */
export function retireWorkflow(act: Act, key: string): Promise<Result<null>> {
  return configuring(act, async (change) => {
    const found = await lockWorkflow(change, key);
    if (!found.ok) return found;
    const { id, name, retiredAt } = found.value;
    if (retiredAt !== null) return accept(null);
    const places = await loadPlaces(change.tx);
    const set = places.bindings.filter((one) => one.workflowId === id);
    if (set.some((one) => one.scope === "publication")) {
      const sentence = `${name} applies wherever nothing else is set. Choose another for ${places.name} first.`;
      return refuse({ code: "in-use", sentence });
    }
    await change.tx.delete(workflowBinding).where(eq(workflowBinding.workflowId, id));
    await change.tx.update(workflow).set({ retiredAt: change.now }).where(eq(workflow.id, id));
    change.happened(
      workflowRetired,
      { key, places: set.map(({ scope, scopeId }) => ({ scope, scopeId })) },
      { subjectId: id },
    );
    return accept(null);
  });
}

/** Lets a retired workflow be chosen again. */
export function reviveWorkflow(act: Act, key: string): Promise<Result<null>> {
  return configuring(act, async (change) => {
    const found = await lockWorkflow(change, key);
    if (!found.ok) return found;
    if (found.value.retiredAt === null) return accept(null);
    await change.tx.update(workflow).set({ retiredAt: null }).where(eq(workflow.id, found.value.id));
    change.happened(workflowRevived, { key }, { subjectId: found.value.id });
    return accept(null);
  });
}

/** Deletes a workflow no piece ever travelled and no place uses; any other can only be retired. */
export function deleteWorkflow(act: Act, key: string): Promise<Result<null>> {
  return configuring(act, async (change) => {
    const found = await lockWorkflow(change, key);
    if (!found.ok) return found;
    const { tx } = change;
    const { id, name } = found.value;
    const [pieces] = await tx
      .select({ here: count() })
      .from(piece)
      .innerJoin(workflowRevision, eq(workflowRevision.id, piece.workflowRevisionId))
      .where(eq(workflowRevision.workflowId, id));
    const [places] = await tx.select({ set: count() }).from(workflowBinding).where(eq(workflowBinding.workflowId, id));
    if (pieces?.here || places?.set) {
      const why = pieces?.here ? `${pieces.here} pieces belong to it` : "it applies somewhere";
      return refuse({ code: "in-use", sentence: `${name} cannot be deleted, since ${why}. Retire it instead.` });
    }
    await tx.update(workflow).set({ currentRevisionId: null }).where(eq(workflow.id, id));
    for (const table of [workflowCopy, workflowAdoption, workflowRevision])
      await tx.delete(table).where(eq(table.workflowId, id));
    await tx.delete(workflow).where(eq(workflow.id, id));
    change.happened(workflowDeleted, {}, { subjectId: id, before: { key, name } });
    return accept(null);
  });
}

async function refuseUnknown(
  change: Change,
  { scope, scopeId, workflowId }: Bind,
  places: Places,
): Promise<Refusal | null> {
  const [chosen] = workflowId ? await change.tx.select().from(workflow).where(eq(workflow.id, workflowId)) : [];
  if (workflowId && !chosen?.currentRevisionId)
    return { code: "unknown-workflow", sentence: "There is no such workflow in use." };
  if (chosen && chosen.retiredAt !== null)
    return { code: "retired", sentence: `${chosen.name} is retired and can be chosen no more.` };
  if (scope === "section" && !places.sections.has(scopeId))
    return { code: "unknown-section", sentence: "There is no such section." };
  if (scope === "publication" && scopeId !== places.publicationId)
    return { code: "unknown-section", sentence: "There is no such publication." };
  if (scope !== "kind") return null;
  const [kindRow] = await change.tx.select({ id: kind.id }).from(kind).where(eq(kind.id, scopeId));
  return kindRow ? null : { code: "unknown-kind", sentence: "There is no such kind of piece." };
}
