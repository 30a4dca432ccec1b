import { and, eq, inArray, isNull } from "drizzle-orm";
import { accept, type Result } from "#core/refusal.ts";
import { due } from "#core/time/due.ts";
import { localDate } from "#core/time/local.ts";
import { sayInstant } from "#core/time/words.ts";
import { stateOf, type Transition } from "#core/workflow/document.ts";
import { restingPlace } from "#core/workflow/moves.ts";
import { newId } from "../db/schema/columns.ts";
import { assignment, checklistPoint, piece, pieceViewer, release, stay } from "../db/schema/index.ts";
import type { NoticeKind } from "../notices/deliver.ts";
import { named, type PieceFacts } from "../piece/facts.ts";
import { closeRound, loadOpenRound, openRound } from "../review/rounds.ts";
import type { Places } from "../sections/places.ts";
import { loadTeam, peopleMeant, type Team } from "../team/queries.ts";
import { letGo } from "../text/holder.ts";
import type { Change } from "../write.ts";

/** How a piece travels: by which transition, with what the sender said. */
export interface Travel {
  transition: Transition;
  note: string;
  /** A due date the sender chose; the state's own time allowed otherwise. Epoch milliseconds. */
  dueAt?: number | null;
  reviewers?: readonly string[];
  urgency?: "normal" | "urgent";
  publishAt?: number | null;
  /** On whose behalf, when a stand-in's decision moves it. */
  forId?: string | null;
  /** What the author is told; nothing when absent. */
  authorNotice?: { kind: NoticeKind; headline: string };
}

/** What of a travel a piece's new place needs to know. */
type Settling = Pick<Travel, "note" | "dueAt" | "urgency" | "publishAt"> & { transition: { name: string } };

/**
 * Takes a piece along a transition and lays down everything its arrival brings: the stay, the due
 * date, assignments, checklist, the round with its seats, what readers see, the ledger, the notices.
 * Whether it may travel was decided before.
 */
export async function travel(change: Change, facts: PieceFacts, places: Places, way: Travel): Promise<Result<null>> {
  const { state, passedBy } = restingPlace(facts.workflow, way.transition.to);
  const from = stateOf(facts.workflow, facts.piece.stateKey);
  const zone = places.calendar.timeZone;
  const meant = [...state.arrival.assign, ...state.arrival.notify, ...way.transition.notify];
  const team = state.review || meant.length > 0 ? await loadTeam(change.tx, localDate(change.now, zone)) : NOBODY;
  const arrived = await settle(
    change,
    facts,
    { ...way, dueAt: way.dueAt ?? (state.take ? due(places.calendar, change.now, state.take) : null) },
    state.key,
  );

  change.record({
    action: "piece.moved",
    pieceId: facts.piece.id,
    subjectId: facts.version.id,
    forId: way.forId,
    before: { state: from.key, name: from.name, publishAt: facts.piece.publishAt },
    after: {
      transition: way.transition.key,
      step: way.transition.name,
      state: state.key,
      name: state.name,
      passedBy: passedBy.map((one) => one.key),
      note: way.note,
      version: facts.version.number,
      hash: facts.version.hash,
      dueAt: arrived.piece.dueAt,
      publishAt: arrived.piece.publishAt,
      urgency: arrived.piece.urgency,
    },
  });
  await assign(change, arrived, team);
  if (state.kind === "ready") await rebindPlans(change, arrived);
  if (state.kind === "live") await publish(change, arrived);
  tellOfArrival(change, arrived, team, way, zone);
  if (!state.review) return accept(null);
  const { review } = state;
  return openRound(change, arrived, team, {
    review,
    senderId: change.actor?.id ?? null,
    chosen: way.reviewers ?? [],
    note: way.note,
    dueAt: arrived.piece.dueAt,
    zone,
  });
}

/** Takes a piece out of the state it is in, its open review and its writer's hold with it, and lays it down in another. */
export async function settle(change: Change, facts: PieceFacts, way: Settling, stateKey: string): Promise<PieceFacts> {
  const { tx, now } = change;
  const { id } = facts.piece;
  const state = stateOf(facts.workflow, stateKey);
  await letGo(change, id);
  const left = await loadOpenRound(tx, id);
  if (left) await closeRound(change, left, "withdrawn");
  const row = {
    stateKey,
    stateKind: state.kind,
    since: now,
    dueAt: way.dueAt ?? null,
    urgency: way.urgency ?? facts.piece.urgency,
    publishAt: way.publishAt ?? facts.piece.publishAt,
    private: false,
    restricted: !state.viewers.includes("anyone"),
    revision: facts.piece.revision + 1,
  };
  await tx.update(piece).set(row).where(eq(piece.id, id));
  await tx
    .update(stay)
    .set({ leftAt: now })
    .where(and(eq(stay.pieceId, id), isNull(stay.leftAt)));
  await tx.insert(stay).values({
    id: newId(),
    pieceId: id,
    stateKey,
    arrivedAt: now,
    step: way.transition.name,
    byId: change.actor?.id ?? null,
    note: way.note,
  });
  await layDownState(change, id, state);
  return { ...facts, state, piece: { ...facts.piece, ...row } };
}

/** For an arrival that concerns nobody but the author. */
const NOBODY: Team = { people: new Map(), away: new Set(), load: new Map(), standIns: new Map() };

/** Replaces what belongs to the state a piece is in: who may see it, what is to be ticked, who has it. */
export async function layDownState({ tx }: Change, pieceId: string, state: PieceFacts["state"]): Promise<void> {
  for (const table of [pieceViewer, checklistPoint, assignment])
    await tx.delete(table).where(eq(table.pieceId, pieceId));
  if (!state.viewers.includes("anyone") && state.viewers.length > 0) {
    await tx.insert(pieceViewer).values([...new Set(state.viewers)].map((principal) => ({ pieceId, principal })));
  }
  const { checklist } = state.arrival;
  if (checklist.length > 0)
    await tx.insert(checklistPoint).values(checklist.map((words, position) => ({ pieceId, position, words })));
}

async function assign(change: Change, facts: PieceFacts, team: Team): Promise<void> {
  const people = peopleMeant(team, facts.state.arrival.assign, facts.target, change.now);
  if (facts.target.piece) facts.target.piece.assigneeIds = people;
  if (people.length === 0) return;
  await change.tx.insert(assignment).values(people.map((personId) => ({ pieceId: facts.piece.id, personId })));
  change.tell({
    to: people,
    kind: "assigned",
    headline: `${facts.state.name}: “${facts.piece.title}” is with you`,
    piece: named(facts),
  });
}

/** A release that was planned goes out with the version approved last. */
async function rebindPlans(change: Change, facts: PieceFacts): Promise<void> {
  await change.tx
    .update(release)
    .set({ versionId: facts.version.id })
    .where(and(eq(release.pieceId, facts.piece.id), eq(release.status, "planned")));
}

/** Closes whatever release is still planned or held for a piece. */
export const closePlans = ({ tx }: Change, pieceId: string) =>
  tx
    .update(release)
    .set({ status: "cancelled", leaseOwner: null, leaseUntil: null })
    .where(and(eq(release.pieceId, pieceId), inArray(release.status, ["planned", "held"])));

/** Makes the present version what readers see, and closes what else was planned for the piece. */
async function publish(change: Change, facts: PieceFacts): Promise<void> {
  const { tx, now } = change;
  const { id } = facts.piece;
  const live = {
    liveVersionId: facts.version.id,
    liveAt: now,
    firstLiveAt: facts.piece.firstLiveAt ?? now,
    publishAt: null,
    dueAt: null,
  };
  await tx.update(piece).set(live).where(eq(piece.id, id));
  await closePlans(change, id);
  change.record({
    action: "piece.released",
    pieceId: id,
    subjectId: facts.version.id,
    before: { live: facts.piece.liveVersionId },
    after: { version: facts.version.number, hash: facts.version.hash },
  });
  change.tell({
    to: [facts.piece.authorId],
    kind: "released",
    headline: `“${facts.piece.title}” is live`,
    piece: named(facts),
  });
}

function tellOfArrival(change: Change, facts: PieceFacts, team: Team, way: Travel, zone: string): void {
  const by = change.actor ? ` (${change.actor.name})` : "";
  const { dueAt } = facts.piece;
  const lines = dueAt ? [`Due ${sayInstant(dueAt, zone, change.now)}.`] : [];
  if (way.authorNotice)
    change.tell({ to: [facts.piece.authorId], ...way.authorNotice, note: way.note, piece: named(facts), lines });
  const others = peopleMeant(team, [...way.transition.notify, ...facts.state.arrival.notify], facts.target, change.now);
  change.tell({
    to: others.filter((person) => !way.authorNotice || person !== facts.piece.authorId),
    kind: "arrived",
    headline: `“${facts.piece.title}” is now in ${facts.state.name}${by}`,
    note: way.note,
    piece: named(facts),
    lines,
  });
}
