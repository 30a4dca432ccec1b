import { and, desc, eq, inArray } from "drizzle-orm";
import { can, principalsOf } from "#core/access/decide.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import type { Person } from "../access/holders.ts";
import { piece, stay, version } from "../db/schema/index.ts";
import { closePlans, settle } from "../passage/travel.ts";
import type { PieceFacts } from "../piece/facts.ts";
import { openPiece } from "../piece/open.ts";
import { type Act, type Change, write } from "../write.ts";
import { versionRow } from "./versions.ts";

/** Whether a piece readers see is being changed beside what they see. */
export const isRevised = ({ piece: row, state }: Pick<PieceFacts, "piece" | "state">) =>
  row.liveVersionId !== null && state.kind !== "live";

/** Whether somebody may give a revision up: whoever may change its text here, and its author as long as they may move it. */
export const mayAbandon = (person: Person, facts: PieceFacts, now: number) =>
  isRevised(facts) &&
  (can(person, "piece.edit", facts.target, now).allowed ||
    (principalsOf(person, facts.target, now).has("author") && can(person, "piece.send", facts.target, now).allowed));

/**
 * Gives a revision up: the piece is live again as readers see it. The revision's words stay among
 * the versions; its plan for a release goes.
 */
export function abandonRevision(
  act: Act,
  order: { pieceId: string; revision: number; note: string },
): Promise<Result<null>> {
  return write(act, async (change) => {
    const opened = await openPiece(change, order.pieceId, order.revision);
    if (!opened.ok) return opened;
    const { facts, actor } = opened.value;
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
    const back = versionRow(facts.piece.id, facts.version.number + 1, live.content, actor.id, now);
    await tx.insert(version).values(back);
    await closePlans(change, facts.piece.id);
    const settling = { transition: { name: "Revision given up" }, note: order.note, dueAt: null };
    const arrived = await settle(change, { ...facts, version: back }, settling, home);
    await tx
      .update(piece)
      .set({ currentVersionId: back.id, title: live.content.title, publishAt: null })
      .where(eq(piece.id, facts.piece.id));
    change.record({
      action: "revision.abandoned",
      pieceId: facts.piece.id,
      subjectId: back.id,
      before: { state: facts.state.key, version: facts.version.number, hash: facts.version.hash },
      after: { state: home, name: arrived.state.name, version: back.number, hash: back.hash, note: order.note },
    });
    change.tell({
      to: [facts.piece.authorId],
      kind: "arrived",
      headline: `The revision of “${facts.piece.title}” was given up; readers see what they saw`,
      note: order.note,
      piece: { id: facts.piece.id, slug: facts.piece.slug, title: live.content.title },
    });
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
