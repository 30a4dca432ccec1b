import { eq } from "drizzle-orm";
import { can } from "#core/access/decide.ts";
import { accept, type Refusal, type Result, refuse } from "#core/refusal.ts";
import { appliedWorkflow, lineage, pathName } from "#core/sections/tree.ts";
import { type Content, readContent } from "#core/text/fields.ts";
import { emptyManuscript } from "#core/text/manuscript.ts";
import { due } from "#core/time/due.ts";
import { localDate } from "#core/time/local.ts";
import { slugOf } from "#core/words/keys.ts";
import { stateOf } from "#core/workflow/document.ts";
import { judgeMove } from "#core/workflow/moves.ts";
import { newId } from "../db/schema/columns.ts";
import { kind, piece, stay, version, workflow } from "../db/schema/index.ts";
import { attach, type BroughtFile, claimFiles } from "../files/commands.ts";
import { layDownState, travel } from "../passage/travel.ts";
import { type PieceFacts, standingOf } from "../piece/facts.ts";
import { openPiece } from "../piece/open.ts";
import { filesHoldAt, holdsAt } from "../release/last-look.ts";
import { loadPlaces, type Places } from "../sections/places.ts";
import { loadTeam, sayPrincipals } from "../team/queries.ts";
import { asRefusal } from "../text/commands.ts";
import { versionRow } from "../text/versions.ts";
import { loadDocuments } from "../workflows/documents.ts";
import { type Act, type Change, write } from "../write.ts";

export interface NewPiece {
  sectionId: string;
  kindId: string;
  title: string;
  private: boolean;
  /** Values of fields, where the piece starts from a file. */
  fields?: Content["fields"];
  /** Files that came along with it. */
  files?: readonly BroughtFile[];
}

/** Begins a piece in the initial state of the workflow that applies in its section. */
export function createPiece(act: Act, wanted: NewPiece): Promise<Result<{ id: string; slug: string }>> {
  return write(act, async (change) => {
    const { tx, now, actor } = change;
    const places = await loadPlaces(tx);
    const [kindRow] = await tx.select().from(kind).where(eq(kind.id, wanted.kindId));
    const sections = lineage(places, wanted.sectionId);
    if (!kindRow) return refuse({ code: "unknown-kind", field: "kindId", sentence: "There is no such kind of piece." });
    if (sections.length === 0)
      return refuse({ code: "unknown-section", field: "sectionId", sentence: "There is no such section." });
    const target = { sectionIds: sections.map((one) => one.id), kindId: kindRow.id, piece: null };
    if (!actor || !can(actor, "piece.create", target, now).allowed) {
      return refuse({
        code: "not-granted",
        field: "sectionId",
        sentence: `No grant of yours lets you begin a ${kindRow.name.toLowerCase()} in ${pathName(places, wanted.sectionId)}.`,
      });
    }
    const applied = await workflowFor(change, places, wanted.sectionId, kindRow.id);
    if (!applied.ok) return applied;
    const blank = Object.fromEntries(
      kindRow.fields.filter((field) => field.type === "manuscript").map((field) => [field.key, emptyManuscript()]),
    );
    const read = readContent(kindRow.fields, { title: wanted.title, fields: { ...blank, ...wanted.fields } });
    if ("problems" in read) return refuse(asRefusal(read.problems));

    const { document, revisionId } = applied.value;
    const state = stateOf(document, document.initial);
    const id = newId();
    const first = versionRow(id, 1, read.content, actor.id, now);
    const slug = `${slugOf(read.content.title, 70) || "piece"}-${id.slice(-6)}`;
    await tx.insert(version).values(first);
    await tx.insert(piece).values({
      id,
      slug,
      title: read.content.title,
      sectionId: wanted.sectionId,
      kindId: kindRow.id,
      authorId: actor.id,
      workflowRevisionId: revisionId,
      stateKey: state.key,
      stateKind: state.kind,
      since: now,
      dueAt: state.take ? due(places.calendar, now, state.take) : null,
      private: wanted.private,
      restricted: !state.viewers.includes("anyone"),
      currentVersionId: first.id,
      createdAt: now,
    });
    await tx.insert(stay).values({ id: newId(), pieceId: id, stateKey: state.key, arrivedAt: now, note: "" });
    await layDownState(change, id, state);
    for (const file of wanted.files ?? []) await attach(change, id, file);
    const claimed = await claimFiles(change, places, id, kindRow.fields, read.content);
    if (claimed) return refuse(claimed);
    change.record({
      action: "piece.created",
      pieceId: id,
      subjectId: first.id,
      after: {
        title: read.content.title,
        kind: kindRow.key,
        section: pathName(places, wanted.sectionId),
        workflow: document.key,
        hash: first.hash,
        private: wanted.private,
      },
    });
    return accept({ id, slug });
  });
}

export interface Send {
  pieceId: string;
  /** The piece's revision the sender saw. */
  revision: number;
  transition: string;
  note: string;
  /** Epoch milliseconds, or null to let the state decide. */
  dueAt: number | null;
  publishAt: number | null;
  urgency: "normal" | "urgent";
  reviewers: string[];
}

/** Takes a piece one step along its workflow. */
export function sendPiece(act: Act, send: Send): Promise<Result<{ slug: string; state: string }>> {
  return write(act, async (change) => {
    const opened = await openPiece(change, send.pieceId, send.revision);
    if (!opened.ok) return opened;
    const { facts, actor, places } = opened.value;
    const pastDate = refusePast(send, change.now);
    if (pastDate) return refuse(pastDate);
    const move = judgeMove(facts.workflow, standingOf(facts, actor, change.now), send.transition, send);
    if ("code" in move) return refuse(move);
    const [blocked] = move.refusals;
    if (blocked) return refuse(await withNames(change, facts, blocked, places.calendar.timeZone));
    if (move.to.kind === "live") {
      const fromReady = facts.state.kind === "ready";
      const [hold] = fromReady
        ? await holdsAt(change, facts, facts.version.id, true)
        : await filesHoldAt(change, facts);
      if (hold) return refuse({ code: hold.code, sentence: hold.sentence });
    }
    const moved = await travel(change, facts, places, {
      transition: move.transition,
      note: send.note,
      dueAt: send.dueAt,
      reviewers: send.reviewers,
      urgency: send.urgency,
      publishAt: send.publishAt,
      ...(actor.id === facts.piece.authorId
        ? {}
        : {
            authorNotice: {
              kind: "arrived" as const,
              headline: `${actor.name} moved “${facts.piece.title}” to ${move.to.name}`,
            },
          }),
    });
    return moved.ok ? accept({ slug: facts.piece.slug, state: move.to.name }) : moved;
  });
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

async function withNames(change: Change, facts: PieceFacts, refusal: Refusal, zone: string): Promise<Refusal> {
  if (!refusal.who) return refusal;
  const team = await loadTeam(change.tx, localDate(change.now, zone));
  return { ...refusal, who: sayPrincipals(team, refusal.who, facts.target) };
}

function refusePast(send: Send, now: number): Refusal | null {
  if (send.dueAt !== null && send.dueAt <= now)
    return { code: "past", field: "dueAt", sentence: "The due date lies in the past." };
  if (send.publishAt !== null && send.publishAt <= now)
    return { code: "past", field: "publishAt", sentence: "The publish date lies in the past." };
  return null;
}
