import { and, eq, inArray, isNull, sql } from "drizzle-orm";
import { pieceRerouted, REROUTED } from "#core/events/pieces.ts";
import { roundClosed, roundOpened, roundStuck } from "#core/events/review.ts";
import { type Arrival, arrive } from "#core/passage/arrive.ts";
import { groupBy } from "#core/words/group.ts";
import type { State, Workflow } from "#core/workflow/document.ts";
import { roundFate } from "#core/workflow/migrate.ts";
import { accessChanged } from "../access/changed.ts";
import { piece, release, round, seat, version } from "../db/schema/index.ts";
import { type LaidRound, layDown, openRounds, replaceChecklists, replaceViewers } from "../passage/lay-down.ts";
import { targetOf } from "../piece/facts.ts";
import { OPEN } from "../release/plans.ts";
import { ownersOf } from "../review/rounds.ts";
import type { Places } from "../sections/places.ts";
import { cancel } from "../tasks/schedule.ts";
import { asCandidates, type Team } from "../team/queries.ts";
import type { Change, Recipient } from "../write.ts";

type Row = typeof piece.$inferSelect;

/** What happens to one piece when its workflow changes under it. */
export interface Rerouted {
  row: Row;
  from: State;
  to: State;
  moved: boolean;
}

/** The revision pieces are put on. */
export interface Revision {
  revisionId: string;
  number: number;
  document: Workflow;
}

/** A piece with what it finds where it goes. */
export interface Going extends Rerouted {
  arrival: Arrival;
}

const STEP = "The workflow changed";

/** What a change of a workflow means for each person, however many pieces it is: one notice each. */
export type Meant = Map<string, { piece: Row; state: string; waits: boolean }[]>;

/**
 * Puts pieces on a revision, each at its state, with everything that belongs to an arrival there.
 * What stays where it is keeps its round where the review asks the same as before.
 */
export async function reroute(
  change: Change,
  going: readonly Going[],
  revision: Revision,
  places: Places,
  meant: Meant,
): Promise<void> {
  if (going.length === 0) return;
  const [moving, staying] = [going.filter((one) => one.moved), going.filter((one) => !one.moved)];
  await endRounds(change, going);
  const laid = await layDown(
    change,
    moving.map(({ row, arrival }) => ({
      row,
      arrival,
      revisionId: revision.revisionId,
      step: STEP,
      note: "",
      urgency: row.urgency,
      publishAt: row.publishAt,
      dueChosen: false,
      private: row.private,
    })),
  );
  await keepWhereTheyAre(change, staying, revision);
  const restarted = staying.filter(({ from, to }) => to.review && roundFate(from, to) !== "continues");
  const reopened = await openRounds(
    change,
    restarted.map(({ row, arrival }) => ({ row, arrival: { ...arrival, dueAt: row.dueAt }, note: "" })),
  );
  await record(change, going, new Map([...laid, ...reopened]), revision, places, meant);
  await lookAheadFor(change, going);
}

/** Plans of pieces that went elsewhere are looked at again, with whatever else their planners answer for. */
async function lookAheadFor(change: Change, going: readonly Going[]): Promise<void> {
  const ids = going.map(({ row }) => row.id);
  if (ids.length === 0) return;
  const planners = await change.tx
    .selectDistinct({ id: release.plannedBy })
    .from(release)
    .where(and(inArray(release.pieceId, ids), inArray(release.status, [...OPEN])));
  await accessChanged(
    change,
    planners.map((planner) => planner.id),
  );
}

/** What a piece finds where it goes. @throws Error where that asks for a choice: nothing lands there */
export function arrivalOf(
  { now }: Change,
  { row, to }: Rerouted,
  { document }: Revision,
  places: Places,
  team: Team,
): Arrival {
  const target = targetOf(row, to, places, { assigneeIds: [], seatedIds: [] });
  const people = asCandidates(team, target, now);
  const arriving = { authorId: row.authorId, publishAt: row.publishAt, people, calendar: places.calendar, now };
  const arrived = arrive(document, arriving, { to: to.key, notify: [], chosen: null });
  if (!arrived.ok) throw new Error(`an arrival without a choice was refused: ${arrived.refusal.sentence}`);
  return arrived.value;
}

/** Closes the rounds that do not go on where their pieces go. */
async function endRounds(change: Change, going: readonly Going[]): Promise<void> {
  const ended = going.filter(({ from, to }) => from.review && roundFate(from, to) !== "continues");
  if (ended.length === 0) return;
  const ids = ended.map((one) => one.row.id);
  const { tx, now } = change;
  await tx
    .update(seat)
    .set({ status: "closed" })
    .where(and(inArray(seat.pieceId, ids), inArray(seat.status, ["open", "waiting"])));
  const theirs = and(inArray(round.pieceId, ids), isNull(round.closedAt));
  const rounds = await tx.select({ id: round.id }).from(round).where(theirs);
  await tx.update(round).set({ closedAt: now, outcome: "withdrawn", stuck: null }).where(theirs);
  await cancel(
    tx,
    "reminder",
    rounds.map(({ id }) => id),
  );
  for (const { row, from } of ended)
    change.happened(roundClosed, { state: from.name, outcome: "withdrawn" }, { pieceId: row.id });
}

/** What differs of a state a piece stays in: who may see it, and what is to be ticked. */
async function keepWhereTheyAre(change: Change, staying: readonly Going[], { revisionId }: Revision): Promise<void> {
  for (const [, alike] of groupBy(staying, (one) => `${one.to.kind} ${one.arrival.viewers === null}`)) {
    const [{ to, arrival }] = alike as [Going];
    await change.tx
      .update(piece)
      .set({
        workflowRevisionId: revisionId,
        stateKind: to.kind,
        restricted: arrival.viewers !== null,
        revision: sql`${piece.revision} + 1`,
      })
      .where(
        inArray(
          piece.id,
          alike.map((one) => one.row.id),
        ),
      );
  }
  const differs = (part: (state: State) => unknown) =>
    staying.filter((one) => JSON.stringify(part(one.from)) !== JSON.stringify(part(one.to)));
  await replaceViewers(
    change,
    differs((state) => state.viewers),
  );
  await replaceChecklists(
    change,
    differs((state) => state.arrival.checklist),
  );
}

async function record(
  change: Change,
  going: readonly Going[],
  rounds: ReadonlyMap<string, LaidRound>,
  { number, revisionId }: Revision,
  places: Places,
  meant: Meant,
): Promise<void> {
  const versions = await versionsOf(change, [...rounds.keys()]);
  const add = (people: readonly string[], one: Going, waits: boolean) => {
    for (const person of people) {
      const lines = meant.get(person) ?? [];
      lines.push({ piece: one.row, state: one.to.name, waits });
      meant.set(person, lines);
    }
  };
  for (const one of going) {
    const { row, from, to, moved, arrival } = one;
    change.happened(
      pieceRerouted,
      { state: to.key, name: to.name, revision: number, moved },
      {
        pieceId: row.id,
        subjectId: revisionId,
        before: { state: from.key, name: from.name, revisionId: row.workflowRevisionId },
      },
    );
    if (moved) {
      add([row.authorId], one, false);
      add(
        arrival.assigned.map((each) => each.personId),
        one,
        true,
      );
    }
    const laid = rounds.get(row.id);
    if (!laid) continue;
    const open = laid.seats.filter((place) => place.status === "open" && place.flag === null);
    add(
      open.map((place) => place.personId),
      one,
      true,
    );
    await recordRound(change, one, laid, versions.get(row.id), places);
  }
}

async function recordRound(
  change: Change,
  { row: of, to, arrival }: Going,
  { row }: LaidRound,
  read: { number: number; hash: string } | undefined,
  places: Places,
): Promise<void> {
  const about = { pieceId: of.id, subjectId: row.id };
  change.happened(
    roundOpened,
    { state: to.key, name: to.name, rule: row.rule, version: read?.number, hash: read?.hash, dueAt: row.dueAt },
    about,
  );
  if (!row.stuck) return;
  const { stuck, rule, count } = row;
  const target = targetOf(of, arrival.state, places, { assigneeIds: [], seatedIds: [] });
  const owners = await ownersOf(change, { piece: of, target }, null);
  change.happened(roundStuck, { state: to.name, stuck, rule, count }, { ...about, tell: { owners } });
}

async function versionsOf({ tx }: Change, pieceIds: readonly string[]) {
  if (pieceIds.length === 0) return new Map<string, { number: number; hash: string }>();
  const rows = await tx
    .select({ pieceId: piece.id, number: version.number, hash: version.hash })
    .from(version)
    .innerJoin(piece, eq(piece.currentVersionId, version.id))
    .where(inArray(piece.id, [...pieceIds]));
  return new Map(rows.map((row) => [row.pieceId, row]));
}

const LISTED = 20;

/** What each person is told of a change of a workflow: of one piece with its link, of several in a list. */
export function meantFor(meant: Meant, workflow: string): Recipient[] {
  return [...meant].map(([to, lines]) => {
    const [first] = lines as [(typeof lines)[number]];
    const waits = lines.some((line) => line.waits);
    const words = (line: (typeof lines)[number]) =>
      REROUTED.says({
        payload: null,
        actor: null,
        title: line.piece.title,
        when: String,
        params: { count: 1, waits: line.waits, state: line.state },
      });
    if (lines.length === 1) return { to, params: { count: 1, waits, state: first.state, pieceId: first.piece.id } };
    const listed = lines.slice(0, LISTED).map(words);
    const rest = lines.length > LISTED ? [`and ${lines.length - LISTED} more`] : [];
    return { to, params: { count: lines.length, waits, workflow, listed: [...listed, ...rest] } };
  });
}
