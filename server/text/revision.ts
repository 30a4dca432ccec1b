import { and, desc, eq, inArray } from "drizzle-orm";
import { z } from "zod";
import { can, principalsOf } from "#core/access/decide.ts";
import { revisionAbandoned } from "#core/events/pieces.ts";
import { arrive } from "#core/passage/arrive.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { localDate } from "#core/time/local.ts";
import type { Person } from "../access/holders.ts";
import { piece, stay, version } from "../db/schema/index.ts";
import { land } from "../passage/travel.ts";
import type { PieceFacts } from "../piece/facts.ts";
import { note, onPiece } from "../piece/input.ts";
import { openPiece } from "../piece/open.ts";
import { endPlans } from "../release/plans.ts";
import { asCandidates, loadTeam } from "../team/queries.ts";
import { type Act, type Change, write } from "../write.ts";
import { carryAnchors } from "./anchors.ts";
import { versionRow } from "./versions.ts";

/** Whether a piece readers see is being changed beside what they see. */
export const isRevised = ({ piece: row, state }: Pick<PieceFacts, "piece" | "state">) =>
  row.liveVersionId !== null && state.kind !== "live";

/** Whether somebody may give a revision up: whoever may change its text here, and its author as long as they may move it. */
export const mayAbandon = (person: Person, facts: PieceFacts, now: number) =>
  isRevised(facts) &&
  (can(person, "piece.edit", facts.target, now).allowed ||
    (principalsOf(person, facts.target, now).has("author") && can(person, "piece.send", facts.target, now).allowed));

export const abandonInput = z.object({ ...onPiece, note });

/**
 * Gives a revision up: the piece is live again as readers see it. The revision's words stay among
 * the versions; its plan for a release goes.
 */
export function abandonRevision(act: Act, order: z.infer<typeof abandonInput>): Promise<Result<null>> {
  return write(act, async (change) => {
    const opened = await openPiece(change, order.pieceId, order.revision);
    if (!opened.ok) return opened;
    const { facts, actor, places } = opened.value;
    const { tx, now } = change;
    if (!isRevised(facts)) return refuse({ code: "no-revision", sentence: "No revision of it is under way." });
    if (!mayAbandon(actor, facts, now))
      return refuse({ code: "not-editor", sentence: `In ${facts.state.name} it is not yours to give up.` });
    const home = await lastLiveState(change, facts);
    const [live] = await tx
      .select()
      .from(version)
      .where(eq(version.id, facts.piece.liveVersionId ?? ""));
    if (!home || !live) return refuse({ code: "no-revision", sentence: "Its workflow has no live state any more." });
    const written = { authorId: actor.id, createdAt: now };
    const back = versionRow(facts.piece.id, facts.version.number + 1, live.content, facts.kind.fields, written);
    await tx.insert(version).values(back);
    await endPlans(change, [facts.piece.id], "the revision was given up");
    const team = await loadTeam(tx, localDate(now, places.calendar.timeZone));
    const arrived = arrive(
      facts.workflow,
      {
        authorId: facts.piece.authorId,
        publishAt: null,
        people: asCandidates(team, facts.target, now),
        calendar: places.calendar,
        now,
      },
      { to: home, notify: [], chosen: null },
    );
    if (!arrived.ok) return arrived;
    const { name } = arrived.value.state;
    const { id, authorId, urgency } = facts.piece;
    const down = { urgency, publishAt: null, dueChosen: false, transition: null, forId: null, team };
    const settled = { ...arrived.value, dueAt: null, assigned: [] };
    const coming = { change, facts: { ...facts, version: back }, arrival: settled };
    await land([{ ...coming, down: { step: "Revision given up", note: order.note, ...down } }]);
    await tx.update(piece).set({ currentVersionId: back.id, title: live.content.title }).where(eq(piece.id, id));
    await carryAnchors(change, id, facts.version.content, live.content);
    change.happened(
      revisionAbandoned,
      { state: home, name, version: back.number, hash: back.hash, note: order.note },
      {
        pieceId: id,
        subjectId: back.id,
        before: { state: facts.state.key, version: facts.version.number, hash: facts.version.hash },
        tell: { author: [authorId] },
      },
    );
    return accept(null);
  });
}

/** The live state a piece was in last, if its workflow still has it; else the workflow's first. */
async function lastLiveState({ tx }: Change, { piece: row, workflow }: PieceFacts): Promise<string | undefined> {
  const live = workflow.states.filter((state) => state.kind === "live").map((state) => state.key);
  if (live.length === 0) return undefined;
  const [last] = await tx
    .select({ key: stay.stateKey })
    .from(stay)
    .where(and(eq(stay.pieceId, row.id), inArray(stay.stateKey, live)))
    .orderBy(desc(stay.arrivedAt))
    .limit(1);
  return last?.key ?? live[0];
}
