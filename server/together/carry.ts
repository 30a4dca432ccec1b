import { and, eq, inArray } from "drizzle-orm";
import { type Result, refuse } from "#core/refusal.ts";
import { SITE } from "#core/release/channel.ts";
import { shiftByDays } from "#core/time/shift.ts";
import { outcomeKeys, stateOf, type Workflow } from "#core/workflow/document.ts";
import type { Queryable } from "../db/client.ts";
import { assignment, type bundleItem, type Doing, piece, release, seat } from "../db/schema/index.ts";
import { fillEdition } from "../editions/commands.ts";
import { recallPiece, sendPiece } from "../passage/commands.ts";
import { decide } from "../passage/deciding.ts";
import { changeDue, changeUrgency, reassign, reassignSeat } from "../passage/routing.ts";
import { loadDocuments } from "../piece/documents.ts";
import { NOT_FOUND } from "../piece/open.ts";
import { placePiece } from "../pieces/placing.ts";
import { pointOut } from "../pieces/pointing.ts";
import { planRelease } from "../release/commands.ts";
import { OPEN } from "../release/plans.ts";
import { loadPlaces } from "../sections/places.ts";
import type { Act } from "../write.ts";

type Item = Pick<typeof bundleItem.$inferSelect, "pieceId" | "revision" | "hash">;
type Row = typeof piece.$inferSelect;

/** Does to one piece what is done to many, by the very command its own page uses: with its checks, and its refusals. */
export async function carry(act: Act, doing: Doing, { pieceId, revision, hash }: Item): Promise<Result<unknown>> {
  const [row] = await act.db.select().from(piece).where(eq(piece.id, pieceId));
  if (!row) return refuse(NOT_FOUND);
  const on = { pieceId, revision };
  switch (doing.do) {
    case "step":
      return step(act, doing, row, on);
    case "approve":
    case "return":
      return decide(act, { pieceId, versionHash: hash, verdict: doing.do, note: doing.note });
    case "recall":
      return recallPiece(act, { ...on, note: doing.note });
    case "due":
      return changeDue(act, { ...on, dueAt: doing.at, note: doing.note });
    case "due-shift":
      if (row.dueAt === null) return refuse({ code: "no-date", sentence: "It has no due date that could be moved." });
      return changeDue(act, { ...on, dueAt: await shifted(act.db, row.dueAt, doing.days), note: doing.note });
    case "plan":
      return planRelease(act, { ...on, at: doing.at, far: true });
    case "plan-shift":
      return moveRelease(act, doing.days, on);
    case "urgency":
      return changeUrgency(act, { ...on, urgency: doing.urgency });
    case "hand":
      return handOver(act, doing, on);
    case "section":
      return placePiece(act, {
        ...on,
        sectionId: doing.sectionId,
        kindId: row.kindId,
        authorId: row.authorId,
        note: doing.note,
      });
    case "edition":
      return fillEdition(act, { editionId: doing.editionId, pieces: [pieceId], late: doing.note });
    case "point-out":
      return pointOut(act, { pieceId, people: doing.people, note: doing.note });
    case "send":
      return step(act, { name: doing.step, note: doing.note, to: doing.personId, at: doing.at }, row, on);
    case "each":
      return refuse({ code: "nothing", sentence: "Nothing was chosen for it." });
  }
}

async function shifted(db: Queryable, at: number, days: number): Promise<number> {
  return shiftByDays((await loadPlaces(db)).calendar, at, days);
}

/** The names of the steps people take by hand from some stops of their lines. */
export const stepsFrom = (workflow: Workflow, stateKey: string) => {
  const reviewed = outcomeKeys(workflow);
  return workflow.transitions.filter(
    (one) => one.from.includes(stateKey) && (one.by.length > 0 || !reviewed.has(one.key)),
  );
};

async function step(
  act: Act,
  { name, note, to, at = null }: { name: string; note: string; to?: string; at?: number | null },
  row: Row,
  on: { pieceId: string; revision: number },
): Promise<Result<unknown>> {
  const workflow = (await loadDocuments(act.db, [row.workflowRevisionId])).get(row.workflowRevisionId) as Workflow;
  const found = stepsFrom(workflow, row.stateKey).find((one) => one.name === name);
  if (!found) {
    const sentence = `There is no step “${name}” from ${stateOf(workflow, row.stateKey).name}.`;
    return refuse({ code: "no-such-move", sentence });
  }
  const publishAt = row.publishAt !== null && row.publishAt > act.now ? row.publishAt : null;
  return sendPiece(act, {
    ...on,
    transition: found.key,
    note,
    publishAt,
    urgency: row.urgency,
    dueAt: at,
    reviewers: to ? [to] : [],
  });
}

async function moveRelease(
  act: Act,
  days: number,
  on: { pieceId: string; revision: number },
): Promise<Result<unknown>> {
  const [plan] = await act.db
    .select({ at: release.at })
    .from(release)
    .where(and(eq(release.pieceId, on.pieceId), eq(release.channel, SITE), inArray(release.status, [...OPEN])));
  if (!plan) return refuse({ code: "no-plan", sentence: "No release is planned for this piece." });
  return planRelease(act, { ...on, at: await shifted(act.db, plan.at, days), far: true });
}

/** What one person has of a piece goes to another: their seat in its review, or what is assigned to them. */
async function handOver(
  act: Act,
  { from, to }: { from: string; to: string },
  on: { pieceId: string; revision: number },
): Promise<Result<unknown>> {
  const [place] = await act.db
    .select({ id: seat.id })
    .from(seat)
    .where(and(eq(seat.pieceId, on.pieceId), eq(seat.personId, from), inArray(seat.status, ["open", "waiting"])));
  if (place) return reassignSeat(act, { ...on, seatId: place.id, personId: to });
  const [has] = await act.db
    .select({ id: assignment.personId })
    .from(assignment)
    .where(and(eq(assignment.pieceId, on.pieceId), eq(assignment.personId, from)));
  if (has) return reassign(act, { ...on, from, personId: to });
  return refuse({ code: "not-theirs", sentence: "It does not wait on that person." });
}
