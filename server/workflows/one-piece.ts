import { and, eq, isNotNull, isNull } from "drizzle-orm";
import { z } from "zod";
import { can } from "#core/access/decide.ts";
import { pieceOverridden, workflowBound } from "#core/events/pieces.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { localDate } from "#core/time/local.ts";
import { type State, stateOf, type Workflow } from "#core/workflow/document.ts";
import { type Fate, landing, liesBehindReview, mayLand } from "#core/workflow/migrate.ts";
import { notGranted } from "../access/who.ts";
import type { Queryable } from "../db/client.ts";
import { newId } from "../db/schema/columns.ts";
import { version, workflow, workflowBinding, workflowRevision } from "../db/schema/index.ts";
import { flagOverridden } from "../passage/travel.ts";
import { loadDocuments } from "../piece/documents.ts";
import type { PieceFacts } from "../piece/facts.ts";
import { onPiece, text } from "../piece/input.ts";
import { openPiece } from "../piece/open.ts";
import { loadTeam } from "../team/queries.ts";
import type { Act, Change } from "../write.ts";
import { configuring } from "./copies.ts";
import { arrivalOf, type Meant, meantFor, reroute } from "./rerouting.ts";

/** A workflow a piece may be put on, with the states it may come to. */
export interface LineChoice {
  key: string;
  name: string;
  states: { key: string; name: string }[];
}

/** Every workflow in use, for the choice of a single piece. */
export async function lineChoices(db: Queryable): Promise<LineChoice[]> {
  const rows = await db
    .select({ key: workflow.key, name: workflow.name, revisionId: workflow.currentRevisionId })
    .from(workflow)
    .where(and(isNotNull(workflow.currentRevisionId), isNull(workflow.retiredAt)))
    .orderBy(workflow.name);
  const documents = await loadDocuments(
    db,
    rows.flatMap((row) => row.revisionId ?? []),
  );
  return rows.map(({ key, name, revisionId }) => {
    const states = (documents.get(revisionId ?? "")?.states ?? []).filter((one) => !one.bypass && mayLand(one));
    return { key, name, states: states.map((one) => ({ key: one.key, name: one.name })) };
  });
}

export const lineInput = z.object({
  ...onPiece,
  workflow: z.string().max(60),
  /** Key of the state it comes to. */
  state: z.string().max(60),
  note: text("Say why it goes on there: its author is told.", 4_000),
});
type PutOnLine = z.infer<typeof lineInput>;

/** Puts one piece in flight on another workflow, or on the newest revision of its own, at a chosen state. */
export function putOnLine(act: Act, wanted: PutOnLine): Promise<Result<{ state: string }>> {
  return configuring(act, async (change) => {
    const opened = await openPiece(change, wanted.pieceId, wanted.revision);
    if (!opened.ok) return opened;
    const { facts, places } = opened.value;
    if (!facts.piece.inFlight)
      return refuse({ code: "ended", sentence: `It is in ${facts.state.name}; only a piece in flight changes lines.` });
    const { tx, now } = change;
    const [row] = await tx
      .select({
        id: workflow.id,
        name: workflow.name,
        revisionId: workflowRevision.id,
        number: workflowRevision.number,
      })
      .from(workflow)
      .innerJoin(workflowRevision, eq(workflowRevision.id, workflow.currentRevisionId))
      .where(and(eq(workflow.key, wanted.workflow), isNull(workflow.retiredAt)));
    const document = row && (await loadDocuments(tx, [row.revisionId])).get(row.revisionId);
    if (!row || !document?.states.some((state) => state.key === wanted.state && mayLand(state))) {
      return refuse({ code: "unknown-workflow", sentence: "There is no such workflow or state in use." });
    }
    if (row.revisionId === facts.piece.workflowRevisionId)
      return refuse({ code: "same-line", sentence: `It travels on ${row.name} already; its steps move it.` });
    const fate: Fate = { kind: "moves", to: wanted.state };
    const to = landing(document, facts.piece.stateKey, fate) ?? stateOf(document, wanted.state);
    if (!mayLand(to)) return refuse({ code: "out-at-once", sentence: `From there it would be in ${to.name} at once.` });
    const { note } = wanted;
    const past = await passedBy(change, facts, document, to);
    if (past && !can(opened.value.actor, "piece.override", facts.target, now).allowed) {
      const sentence = `${past} No role of yours lets you move it past what its workflow asks.`;
      return notGranted(tx, "piece.override", facts.target, now, sentence);
    }
    const team = await loadTeam(tx, localDate(now, places.calendar.timeZone));
    const rerouted = { row: facts.piece, from: facts.state, to, moved: true };
    const meant: Meant = new Map();
    const revision = { revisionId: row.revisionId, number: row.number, document };
    const arrival = arrivalOf(change, rerouted, revision, places, team);
    await reroute(change, [{ ...rerouted, arrival }], revision, places, meant);
    const at = { scope: "piece" as const, scopeId: facts.piece.id };
    await tx
      .delete(workflowBinding)
      .where(and(eq(workflowBinding.scope, at.scope), eq(workflowBinding.scopeId, at.scopeId)));
    await tx.insert(workflowBinding).values({ id: newId(), ...at, workflowId: row.id });
    change.happened(
      workflowBound,
      { workflow: document.key, name: row.name, state: to.key, note },
      {
        pieceId: facts.piece.id,
        subjectId: row.id,
        before: { workflow: facts.workflow.key, state: facts.state.key },
        tell: { moved: meantFor(meant, row.name) },
      },
    );
    if (past) {
      await flagOverridden(change, facts.piece.id);
      change.happened(
        pieceOverridden,
        { what: `Put on ${row.name} at ${to.name}`, past: [past], note },
        { pieceId: facts.piece.id, tell: { author: [facts.piece.authorId] } },
      );
    }
    return accept({ state: to.name });
  });
}

/** The review a piece would pass by when it is put in a state, in a sentence; null where its words are approved, or none lies before. */
async function passedBy(change: Change, facts: PieceFacts, document: Workflow, to: State): Promise<string | null> {
  if (!liesBehindReview(document, to.key)) return null;
  const { approvedVersionId } = facts.piece;
  const [approved] = approvedVersionId
    ? await change.tx.select({ hash: version.boundHash }).from(version).where(eq(version.id, approvedVersionId))
    : [];
  return approved?.hash === facts.version.boundHash ? null : `${to.name} lies behind a review it has not passed.`;
}
