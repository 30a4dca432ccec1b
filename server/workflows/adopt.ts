import { and, desc, eq, inArray } from "drizzle-orm";
import { workflowAdopted, workflowHeld, workflowPlanned, workflowWithdrawn } from "#core/events/workflows.ts";
import { hashOf } from "#core/ledger/chain.ts";
import { accept, type Refusal, type Result, refuse } from "#core/refusal.ts";
import { check, type Finding, isSound } from "#core/workflow/checking/check.ts";
import { identity } from "#core/workflow/checking/mend.ts";
import type { Workflow } from "#core/workflow/document.ts";
import { newId } from "../db/schema/columns.ts";
import { type Choices, workflow, workflowAdoption, workflowCopy, workflowRevision } from "../db/schema/index.ts";
import { cancel, schedule } from "../tasks/schedule.ts";
import { type Act, type Change, write } from "../write.ts";
import { claimed, configuring, lockWorkflow, staleCopy } from "./copies.ts";
import { type Migrated, migratePieces } from "./migration.ts";
import { loadPeople } from "./staff.ts";

export interface PutInUse {
  key: string;
  /** The working copy's revision the person saw. */
  revision: number;
  choices: Choices;
  /** The warnings the person acknowledges, by their identity. */
  acknowledged: readonly string[];
  /** When; null for at once. Epoch milliseconds. */
  at: number | null;
}

/** What became of a workflow put in use: its revision and the pieces; null where it waits for its date. */
export type InUse = ({ revision: number } & Migrated) | null;

/**
 * Puts the working copy in use, now or at a date: a new revision, and every piece in flight taken
 * along as chosen, in one transaction. Refused while the checker finds an error, while a warning is
 * not acknowledged, or while a piece would have nowhere to go.
 */
export function putInUse(act: Act, wanted: PutInUse): Promise<Result<InUse>> {
  return configuring<InUse>(act, async (change) => {
    const found = await lockWorkflow(change, wanted.key);
    if (!found.ok) return found;
    const held = await claimed(change, found.value);
    if (!held.ok) return held;
    const copy = held.value;
    if (!copy || copy.revision !== wanted.revision) return refuse(await staleCopy(change, copy));
    const findings = check(copy.document, await loadPeople(change.tx, change.now));
    const refusal = refuseFindings(findings, wanted.acknowledged);
    if (refusal) return refuse(refusal);
    // Of a workflow never in use the copy is all there is to see until its date.
    if (wanted.at === null || found.value.currentRevisionId !== null) await dropCopy(change, copy.workflowId);
    await withdraw(change, found.value.id);
    const acknowledged = findings.map(identity);
    if (wanted.at === null)
      return adopt(change, { row: found.value, document: copy.document, choices: wanted.choices, acknowledged });
    if (wanted.at <= change.now) return refuse({ code: "past", field: "at", sentence: "That date lies in the past." });
    const id = newId();
    await change.tx.insert(workflowAdoption).values({
      id,
      workflowId: copy.workflowId,
      document: copy.document,
      choices: wanted.choices,
      acknowledged,
      at: wanted.at,
      status: "planned",
      plannedBy: change.actor?.id ?? "",
    });
    await schedule(change.tx, { kind: "adoption", subject: id, dueAt: wanted.at });
    change.happened(
      workflowPlanned,
      { key: wanted.key, at: wanted.at, hash: hashOf(copy.document), acknowledged },
      { subjectId: copy.workflowId },
    );
    return accept(null);
  });
}

/** Takes back what was to be put in use at a date; it becomes the working copy again, where there is none. */
export function cancelPlanned(act: Act, key: string): Promise<Result<null>> {
  return configuring(act, async (change) => {
    const found = await lockWorkflow(change, key);
    if (!found.ok) return found;
    const held = await claimed(change, found.value);
    if (!held.ok) return held;
    const [document] = await withdraw(change, found.value.id);
    if (!document) return refuse({ code: "no-plan", sentence: "Nothing is planned for this workflow." });
    if (!held.value)
      await change.tx.insert(workflowCopy).values({
        workflowId: found.value.id,
        document,
        holderId: change.actor?.id ?? "",
        touchedAt: change.now,
      });
    return accept(null);
  });
}

/**
 * Puts a planned change in use, its time having come: everything is judged again, and what no
 * longer holds keeps it back, with whoever planned it told. Does nothing where it was done already.
 */
export function carryOutAdoption(act: Act, id: string): Promise<Result<"done" | "held" | "gone">> {
  return write<"done" | "held" | "gone">(act, async (change) => {
    const [plan] = await change.tx.select().from(workflowAdoption).where(eq(workflowAdoption.id, id)).for("update");
    if (plan?.status !== "planned" || plan.at > change.now) return accept("gone");
    const [row] = await change.tx.select().from(workflow).where(eq(workflow.id, plan.workflowId)).for("update");
    if (!row) return accept("gone");
    const findings = check(plan.document, await loadPeople(change.tx, change.now));
    const refusal = refuseFindings(findings, plan.acknowledged);
    const done = refusal
      ? refuse(refusal)
      : await adopt(change, { row, document: plan.document, choices: plan.choices, acknowledged: plan.acknowledged });
    const reason = done.ok ? null : [done.refusal.sentence, ...(done.refusal.missing ?? [])].join(" ").slice(0, 600);
    const status = done.ok ? "done" : "held";
    if (done.ok && row.currentRevisionId === null) await dropCopy(change, row.id);
    await change.tx.update(workflowAdoption).set({ status, reason }).where(eq(workflowAdoption.id, id));
    if (reason !== null) {
      change.happened(
        workflowHeld,
        { key: row.key, name: row.name, reason },
        { subjectId: row.id, tell: { planner: [plan.plannedBy] } },
      );
    }
    return accept(status);
  });
}

interface Adoption {
  row: typeof workflow.$inferSelect;
  document: Workflow;
  choices: Choices;
  acknowledged: string[];
}

async function adopt(change: Change, { row, document, choices, acknowledged }: Adoption): Promise<Result<InUse>> {
  const { tx, now } = change;
  const [last] = await tx
    .select({ number: workflowRevision.number })
    .from(workflowRevision)
    .where(eq(workflowRevision.workflowId, row.id))
    .orderBy(desc(workflowRevision.number))
    .limit(1);
  const revisionId = newId();
  const number = (last?.number ?? 0) + 1;
  await tx.insert(workflowRevision).values({
    id: revisionId,
    workflowId: row.id,
    number,
    document,
    acknowledged,
    createdAt: now,
    createdBy: change.actor?.id ?? null,
  });
  await tx
    .update(workflow)
    .set({
      name: document.name,
      currentRevisionId: revisionId,
      validFrom: document.effective?.from ?? null,
      validUntil: document.effective?.until ?? null,
      retiredAt: null,
      revision: row.revision + 1,
    })
    .where(eq(workflow.id, row.id));
  const migrated = await migratePieces(change, { workflowId: row.id, revisionId, number, document, choices });
  if (!migrated.ok) return migrated;
  const { told, ...counts } = migrated.value;
  change.happened(
    workflowAdopted,
    { key: row.key, revision: number, hash: hashOf(document), acknowledged, ...counts },
    { subjectId: row.id, before: last ? { revision: last.number } : null, tell: { moved: told } },
  );
  return accept({ revision: number, ...counts });
}

const dropCopy = ({ tx }: Change, workflowId: string) =>
  tx.delete(workflowCopy).where(eq(workflowCopy.workflowId, workflowId));

/** Cancels what is planned or held for a workflow. @returns the documents that were to be put in use */
async function withdraw(change: Change, workflowId: string): Promise<Workflow[]> {
  const planned = await change.tx
    .select()
    .from(workflowAdoption)
    .where(and(eq(workflowAdoption.workflowId, workflowId), inArray(workflowAdoption.status, ["planned", "held"])));
  for (const plan of planned) {
    await change.tx.update(workflowAdoption).set({ status: "cancelled" }).where(eq(workflowAdoption.id, plan.id));
    await cancel(change.tx, "adoption", [plan.id]);
    change.happened(workflowWithdrawn, {}, { subjectId: workflowId, before: { at: plan.at } });
  }
  return planned.map((plan) => plan.document);
}

function refuseFindings(findings: readonly Finding[], acknowledged: readonly string[]): Refusal | null {
  if (!isSound(findings)) {
    const missing = findings.filter((finding) => finding.severity === "error").map((finding) => finding.message);
    return { code: "unsound", sentence: "The workflow has a problem and cannot be put in use.", missing };
  }
  const unseen = findings.filter((finding) => !acknowledged.includes(identity(finding)));
  if (unseen.length === 0) return null;
  const missing = unseen.map((finding) => finding.message);
  return {
    code: "unacknowledged",
    sentence: "Say that you have seen what is worth a look.",
    missing,
    keys: unseen.map(identity),
  };
}
