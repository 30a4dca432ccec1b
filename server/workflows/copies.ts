import { eq } from "drizzle-orm";
import { workflowBegun, workflowChanged, workflowDiscarded, workflowTakenOver } from "#core/events/workflows.ts";
import { hashOf } from "#core/ledger/chain.ts";
import { accept, type Refusal, type Result, refuse } from "#core/refusal.ts";
import { sayInstant } from "#core/time/words.ts";
import { freeKey } from "#core/words/keys.ts";
import type { Problem } from "#core/words/problems.ts";
import { readShape, type Workflow } from "#core/workflow/document.ts";
import { emptyWorkflow } from "#core/workflow/editing/edit.ts";
import { STARTING_POINTS } from "#core/workflow/editing/starting-points.ts";
import { fromScxml } from "#core/workflow/exchange/scxml.ts";
import { isMendable, type Known, references } from "#core/workflow/references.ts";
import { administering } from "../access/administer.ts";
import { newId } from "../db/schema/columns.ts";
import { person, workflow, workflowAdoption, workflowCopy } from "../db/schema/index.ts";
import { loadDocuments } from "../piece/documents.ts";
import { loadPlaces } from "../sections/places.ts";
import type { Act, Change } from "../write.ts";

export const WORKFLOW_BYTES = 1_000_000;

/** How long a working copy stays its holder's after their last change. */
export const IDLE = 15 * 60_000;

type Row = typeof workflow.$inferSelect;
type Copy = typeof workflowCopy.$inferSelect;

/** What a new working copy begins as. */
export type Start =
  | { from: "empty"; name: string }
  | { from: "ready"; key: string; name: string }
  | { from: "workflow"; key: string; name: string }
  | { from: "file"; source: string };

const NOT_FOUND: Refusal = { code: "not-found", sentence: "There is no such workflow." };

/**
 * Begins a working copy: of a new workflow, or, from a file whose key is known, of that workflow.
 * Nothing is in use by it.
 *
 * @returns the workflow's key, and what of a file could not be used, a sentence each
 */
export function startCopy(act: Act, start: Start): Promise<Result<{ key: string; leftOut: string[] }>> {
  return configuring(act, async (change) => {
    const read = await documentOf(change, start);
    if (!read.ok) return read;
    const { leftOut } = read.value;
    const known = await change.tx.select().from(workflow);
    const same = start.from === "file" ? known.find((one) => one.key === read.value.document.key) : undefined;
    const key = same?.key ?? freeKey(start.from === "file" ? read.value.document.key : read.value.document.name, known);
    const document = { ...read.value.document, key };
    if (same) {
      const held = await claimed(change, same);
      if (!held.ok) return held;
      await keep(change, same, held.value, document);
      return accept({ key, leftOut });
    }
    const id = newId();
    await change.tx.insert(workflow).values({ id, key, name: document.name });
    await change.tx
      .insert(workflowCopy)
      .values({ workflowId: id, document, holderId: change.actor?.id ?? "", touchedAt: change.now });
    change.happened(workflowBegun, { key, from: start.from, hash: hashOf(document) }, { subjectId: id });
    return accept({ key, leftOut });
  });
}

export interface SaveCopy {
  key: string;
  /** As the browser sent it; its shape is judged here, its findings only when it is put in use. */
  document: unknown;
  /** The working copy's revision the change grew from; 0 where it grew from the revision in use. */
  revision: number;
}

/** Keeps a change of the working copy; begins the copy with the first one. A stale change is refused. */
export function saveCopy(act: Act, save: SaveCopy): Promise<Result<{ revision: number }>> {
  return configuring(act, async (change) => {
    const found = await lockWorkflow(change, save.key);
    if (!found.ok) return found;
    const held = await claimed(change, found.value);
    if (!held.ok) return held;
    const copy = held.value;
    if ((copy?.revision ?? 0) !== save.revision) return refuse(await staleCopy(change, copy));
    const read = readDocument(save.document);
    if (!read.ok) return read;
    if (JSON.stringify(read.value).length > WORKFLOW_BYTES) return refuse(malformed([tooLarge]));
    return accept({ revision: await keep(change, found.value, copy, { ...read.value, key: found.value.key }) });
  });
}

/** Takes the working copy from whoever holds it; they are told. What they changed stays. */
export function takeOver(act: Act, key: string): Promise<Result<null>> {
  return configuring(act, async (change) => {
    const found = await lockWorkflow(change, key);
    if (!found.ok) return found;
    const copy = await copyOf(change, found.value.id);
    if (!copy || !change.actor || copy.holderId === change.actor.id) return accept(null);
    await change.tx
      .update(workflowCopy)
      .set({ holderId: change.actor.id, touchedAt: change.now })
      .where(eq(workflowCopy.workflowId, copy.workflowId));
    change.happened(
      workflowTakenOver,
      { holder: change.actor.id, name: found.value.name },
      { subjectId: copy.workflowId, before: { holder: copy.holderId }, tell: { holder: [copy.holderId] } },
    );
    return accept(null);
  });
}

/** Throws the working copy away; a workflow that was never in use goes with it. */
export function discardCopy(act: Act, key: string): Promise<Result<{ gone: boolean }>> {
  return configuring(act, async (change) => {
    const found = await lockWorkflow(change, key);
    if (!found.ok) return found;
    const held = await claimed(change, found.value);
    if (!held.ok) return held;
    if (!held.value) return accept({ gone: false });
    await change.tx.delete(workflowCopy).where(eq(workflowCopy.workflowId, found.value.id));
    const gone = found.value.currentRevisionId === null;
    if (gone) {
      await change.tx.delete(workflowAdoption).where(eq(workflowAdoption.workflowId, found.value.id));
      await change.tx.delete(workflow).where(eq(workflow.id, found.value.id));
    }
    change.happened(
      workflowDiscarded,
      { gone },
      { subjectId: found.value.id, before: { key, hash: hashOf(held.value.document) } },
    );
    return accept({ gone });
  });
}

/** The one beginning of every command that configures: the actor is asked before anything is read. */
export const configuring = <T>(act: Act, work: (change: Change) => Promise<Result<T>>): Promise<Result<T>> =>
  administering(act, "workflow.edit", work);

/** A workflow by key, its row locked. */
export async function lockWorkflow(change: Change, key: string): Promise<Result<Row>> {
  const [row] = await change.tx.select().from(workflow).where(eq(workflow.key, key)).for("update");
  return row ? accept(row) : refuse(NOT_FOUND);
}

/** The working copy, or null where there is none, when the actor may change it: it is theirs, or idle, or not there. */
export async function claimed(change: Change, row: Row): Promise<Result<Copy | null>> {
  const copy = await copyOf(change, row.id);
  if (!copy || copy.holderId === change.actor?.id || copy.touchedAt + IDLE <= change.now) return accept(copy);
  const [holder] = await change.tx.select({ name: person.name }).from(person).where(eq(person.id, copy.holderId));
  const name = holder?.name ?? "Somebody";
  return refuse({
    code: "held",
    sentence: `${name} is changing this workflow. Take it over, or wait until they are done.`,
    who: [name],
  });
}

/** The refusal of a change that grew from an older working copy. */
export async function staleCopy(change: Change, copy: Copy | null): Promise<Refusal> {
  if (!copy) return { code: "stale", sentence: "The working copy is gone: it was put in use or thrown away." };
  const [holder] = await change.tx.select({ name: person.name }).from(person).where(eq(person.id, copy.holderId));
  const { calendar } = await loadPlaces(change.tx);
  const when = sayInstant(copy.touchedAt, calendar.timeZone, change.now);
  return {
    code: "stale",
    sentence: `${holder?.name ?? "Somebody"} changed the working copy meanwhile (${when}). What you did is still here, not saved.`,
  };
}

async function copyOf(change: Change, workflowId: string): Promise<Copy | null> {
  const [copy] = await change.tx.select().from(workflowCopy).where(eq(workflowCopy.workflowId, workflowId));
  return copy ?? null;
}

async function keep(change: Change, row: Row, copy: Copy | null, document: Workflow): Promise<number> {
  const revision = (copy?.revision ?? 0) + 1;
  const next = { document, holderId: change.actor?.id ?? "", touchedAt: change.now, revision };
  if (copy) await change.tx.update(workflowCopy).set(next).where(eq(workflowCopy.workflowId, row.id));
  else await change.tx.insert(workflowCopy).values({ workflowId: row.id, ...next });
  if (row.currentRevisionId === null && row.name !== document.name)
    await change.tx.update(workflow).set({ name: document.name }).where(eq(workflow.id, row.id));
  change.happened(
    workflowChanged,
    { revision, hash: hashOf(document) },
    { subjectId: row.id, before: copy && { revision: copy.revision, hash: hashOf(copy.document) } },
  );
  return revision;
}

async function documentOf(change: Change, start: Start): Promise<Result<{ document: Workflow; leftOut: string[] }>> {
  const nameless = start.from !== "file" && start.name.trim() === "";
  if (nameless) return refuse({ code: "name-missing", field: "name", sentence: "Give the workflow a name." });
  if (start.from === "file") return readSource(start.source);
  const name = start.name.trim().slice(0, 80);
  if (start.from === "empty") return accept({ document: emptyWorkflow("new", name), leftOut: [] });
  const model =
    start.from === "ready"
      ? STARTING_POINTS.find((one) => one.key === start.key)
      : await documentInUse(change, start.key);
  return model ? accept({ document: { ...model, name }, leftOut: [] }) : refuse(NOT_FOUND);
}

async function documentInUse(change: Change, key: string): Promise<Workflow | undefined> {
  const [row] = await change.tx.select().from(workflow).where(eq(workflow.key, key));
  if (!row?.currentRevisionId) return undefined;
  return (await loadDocuments(change.tx, [row.currentRevisionId])).get(row.currentRevisionId);
}

const tooLarge: Problem = { path: "the document", message: `larger than ${WORKFLOW_BYTES / 1_000_000} MB` };

function malformed(problems: readonly Problem[]): Refusal {
  const missing = problems.slice(0, 50).map(({ path, message }) => `${path}: ${message}`);
  return { code: "malformed", field: "file", sentence: "This is not a workflow Elenco can use.", missing };
}

/** A document whose shape is right and that can be drawn; what else is wrong with it the studio shows. */
function readDocument(json: unknown): Result<Workflow> {
  const read = readShape(json);
  if ("problems" in read) return refuse(malformed(read.problems));
  const faults = references(read.workflow, NOBODY).filter((fault) => !isMendable(fault));
  return faults.length > 0 ? refuse(malformed(faults)) : accept(read.workflow);
}

const NOBODY: Known = { roles: new Set(), people: new Set() };

/** Reads a file: JSON by `elenco.workflow/1`, or SCXML. */
function readSource(source: string): Result<{ document: Workflow; leftOut: string[] }> {
  if (source.length > WORKFLOW_BYTES) return refuse(malformed([tooLarge]));
  const unread = (message: string) => refuse(malformed([{ path: "the file", message }]));
  const brought = source.trimStart().startsWith("<") ? fromScxml(source) : fromJson(source);
  if ("problem" in brought) return unread(brought.problem);
  const read = readDocument(brought.document);
  return read.ok ? accept({ document: read.value, leftOut: brought.leftOut }) : read;
}

function fromJson(source: string): { document: unknown; leftOut: string[] } | { problem: string } {
  try {
    return { document: JSON.parse(source), leftOut: [] };
  } catch (error) {
    return { problem: `neither JSON nor SCXML: ${(error as Error).message}` };
  }
}
