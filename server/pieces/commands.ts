import { eq } from "drizzle-orm";
import { can } from "#core/access/decide.ts";
import { pieceCreated } from "#core/events/pieces.ts";
import { dueIn } from "#core/passage/arrive.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { appliedWorkflow, lineage, pathName } from "#core/sections/tree.ts";
import type { Content } from "#core/text/fields.ts";
import { emptyManuscript } from "#core/text/manuscript.ts";
import { readContent } from "#core/text/reading.ts";
import { localDate } from "#core/time/local.ts";
import { plan } from "#core/time/plan.ts";
import { slugOf } from "#core/words/keys.ts";
import { stateOf, type Workflow } from "#core/workflow/document.ts";
import { legsFrom } from "#core/workflow/legs.ts";
import { notGranted } from "../access/who.ts";
import { newId } from "../db/schema/columns.ts";
import { kind, piece, stay, version, workflow } from "../db/schema/index.ts";
import { attach, attachKept, type BroughtFile, claimFiles, type Properties } from "../files/commands.ts";
import { refusePast } from "../passage/dates.ts";
import { replaceChecklists, replaceViewers } from "../passage/lay-down.ts";
import { loadDocuments } from "../piece/documents.ts";
import { loadPlaces, type Places } from "../sections/places.ts";
import { asRefusal } from "../text/commands.ts";
import { versionRow } from "../text/versions.ts";
import { type Act, type Change, write } from "../write.ts";
import { type Commission, layCommission, writerFor } from "./commission.ts";
import { type From, layOrigin, originFor } from "./origins.ts";

/** A piece somebody begins. */
export interface NewPiece {
  sectionId: string;
  kindId: string;
  title: string;
  private: boolean;
  /** When it is wished for, epoch milliseconds; null for no date. */
  publishAt?: number | null;
  /** Whom it is for, where somebody else is to write it. */
  commission?: Commission | null;
  /** What it begins from: a model text, or another piece. */
  from?: From | null;
  /** Values of fields, where the piece starts from a file. */
  fields?: Content["fields"];
  /** Files that came along with it. */
  files?: readonly BroughtFile[];
  /** Files that are kept already, with what is said of them here. */
  kept?: readonly (Properties & { fileId: string })[];
}

/** Begins a piece in the initial state of the workflow that applies in its section. */
export const createPiece = (act: Act, wanted: NewPiece): Promise<Result<{ id: string; slug: string }>> =>
  write(act, (change) => layPiece(change, wanted));

/** The same as a part of another write. */
export async function layPiece(change: Change, wanted: NewPiece): Promise<Result<{ id: string; slug: string }>> {
  const { tx, now, actor } = change;
  const places = await loadPlaces(tx);
  const [kindRow] = await tx.select().from(kind).where(eq(kind.id, wanted.kindId));
  const sections = lineage(places, wanted.sectionId);
  if (!kindRow) return refuse({ code: "unknown-kind", field: "kindId", sentence: "There is no such kind of piece." });
  if (sections.length === 0)
    return refuse({ code: "unknown-section", field: "sectionId", sentence: "There is no such section." });
  const target = { sectionIds: sections.map((one) => one.id), kindId: kindRow.id, piece: null };
  if (!actor || !can(actor, "piece.create", target, now).allowed) {
    const sentence = `No role of yours lets you begin a ${kindRow.name.toLowerCase()} in ${pathName(places, wanted.sectionId)}.`;
    return notGranted(tx, "piece.create", target, now, sentence, { field: "sectionId" });
  }
  const { commission: asked = null } = wanted;
  const writer = asked && asked.writerId !== actor.id ? await writerFor(change, asked, target) : accept(null);
  if (!writer.ok) return writer;
  const applied = await workflowFor(change, places, wanted.sectionId, kindRow.id);
  if (!applied.ok) return applied;
  const origin = wanted.from ? await originFor(change, places, wanted.from, kindRow) : accept(null);
  if (!origin.ok) return origin;
  const blank = Object.fromEntries(
    kindRow.fields.filter((field) => field.type === "manuscript").map((field) => [field.key, emptyManuscript()]),
  );
  const read = readContent(kindRow.fields, {
    title: wanted.title,
    fields: { ...blank, ...origin.value?.fields, ...wanted.fields },
  });
  if ("problems" in read) return refuse(asRefusal(read.problems));

  const { publishAt = null } = wanted;
  const past = refusePast({ dueAt: null, publishAt }, now);
  if (past) return refuse(past);
  const { document, revisionId } = applied.value;
  const state = stateOf(document, document.initial);
  const begins = {
    checklist: state.arrival.checklist,
    viewers: state.viewers.includes("anyone") ? null : [...new Set(state.viewers)],
  };
  const id = newId();
  const dueAt =
    dueIn(state, { calendar: places.calendar, now, publishAt }) ??
    (asked ? backFrom(document, places, publishAt, now) : null);
  const first = versionRow(id, 1, read.content, kindRow.fields, { authorId: actor.id, createdAt: now });
  const slug = `${slugOf(read.content.title, 70) || "piece"}-${id.slice(-6)}`;
  await tx.insert(version).values(first);
  await tx.insert(piece).values({
    id,
    slug,
    title: read.content.title,
    sectionId: wanted.sectionId,
    kindId: kindRow.id,
    authorId: writer.value?.id ?? actor.id,
    workflowRevisionId: revisionId,
    stateKey: state.key,
    stateKind: state.kind,
    since: now,
    dueAt,
    publishAt,
    private: wanted.private && !asked,
    restricted: !state.viewers.includes("anyone"),
    currentVersionId: first.id,
    createdAt: now,
  });
  await tx.insert(stay).values({
    id: newId(),
    pieceId: id,
    stateKey: state.key,
    workflowRevisionId: revisionId,
    sectionId: wanted.sectionId,
    kindId: kindRow.id,
    arrivedAt: now,
    note: "",
  });
  const begun = [{ row: { id }, arrival: { viewers: begins.viewers, checklist: begins.checklist, assigned: [] } }];
  if (origin.value) await layOrigin(change, id, origin.value);
  await replaceViewers(change, begun);
  await replaceChecklists(change, begun);
  for (const file of wanted.files ?? []) await attach(change, id, file);
  for (const { fileId, ...said } of wanted.kept ?? []) await attachKept(change, id, fileId, said);
  const claimed = await claimFiles(change, places, id, kindRow.fields, read.content);
  if (claimed) return refuse(claimed);
  change.happened(
    pieceCreated,
    {
      title: read.content.title,
      kind: kindRow.key,
      section: pathName(places, wanted.sectionId),
      workflow: document.key,
      hash: first.hash,
      private: wanted.private,
      ...(origin.value && { from: origin.value.name }),
    },
    { pieceId: id, subjectId: first.id },
  );
  if (asked) await layCommission(change, id, writer.value, { brief: asked.brief, dueAt });
  return accept({ id, slug });
}

/** By when a first stop must be left for a date wished for; null where none is, or that has passed. */
function backFrom(document: Workflow, { calendar }: Places, publishAt: number | null, now: number): number | null {
  if (publishAt === null) return null;
  const legs = legsFrom(document, stateOf(document, document.initial));
  const [first] = plan(calendar, legs, { since: now, leaves: now }, publishAt);
  return first?.leaveBy != null && first.leaveBy > now ? first.leaveBy : null;
}

async function workflowFor(change: Change, places: Places, sectionId: string, kindId: string) {
  const applied = appliedWorkflow(places, sectionId, kindId, localDate(change.now, places.calendar.timeZone));
  const [row] = applied
    ? await change.tx.select().from(workflow).where(eq(workflow.id, applied.binding.workflowId))
    : [];
  if (!row?.currentRevisionId) {
    return refuse({
      code: "no-workflow",
      field: "sectionId",
      sentence: `No workflow is valid today for ${pathName(places, sectionId)}. A managing editor chooses one under Workflows.`,
    });
  }
  const document = (await loadDocuments(change.tx, [row.currentRevisionId])).get(row.currentRevisionId);
  if (!document) throw new Error(`workflow ${row.key} has lost its revision`);
  return accept({ document, revisionId: row.currentRevisionId });
}
