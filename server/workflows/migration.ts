import { and, asc, eq, gt, inArray, isNull, sql } from "drizzle-orm";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { due } from "#core/time/due.ts";
import { localDate } from "#core/time/local.ts";
import { type State, stateOf, type Workflow } from "#core/workflow/document.ts";
import { type Fate, landing, mayLand, propose, roundFate } from "#core/workflow/migrate.ts";
import { insertAll } from "../db/insert.ts";
import { newId } from "../db/schema/columns.ts";
import {
  assignment,
  type Choices,
  checklistPoint,
  piece,
  pieceViewer,
  round,
  seat,
  stay,
  version,
  workflowRevision,
} from "../db/schema/index.ts";
import { targetOf } from "../piece/facts.ts";
import { callStatuses, type SeatedRound, seatRound } from "../review/rounds.ts";
import { loadPlaces, type Places } from "../sections/places.ts";
import { loadTeam, peopleMeant, type Team } from "../team/queries.ts";
import type { Change } from "../write.ts";
import { loadDocuments } from "./documents.ts";
import { Telling } from "./telling.ts";

const BATCH = 1_000;
const ends = (state: State) => state.kind === "live" || state.kind === "closed";

/** How many pieces in flight went along, moved, or stay behind on their old revision. */
export interface Migrated {
  stayed: number;
  moved: number;
  behind: number;
}

interface Migration {
  workflowId: string;
  revisionId: string;
  number: number;
  document: Workflow;
  choices: Choices;
}

type Row = typeof piece.$inferSelect;

/** What happens to one piece. */
export interface Rerouted {
  row: Row;
  from: State;
  to: State;
  moved: boolean;
}

/** How a choice for all pieces in a state of a revision is named. */
export const groupKey = (revisionId: string, stateKey: string) => `${revisionId}:${stateKey}`;

/**
 * Takes the pieces in flight of every revision of a workflow along to a new one, as chosen and
 * proposed, a thousand at a time inside the transaction that is open: readers go on reading what
 * was, and either all of it happens or nothing. What is live or closed follows where its state is
 * still there, so that a revision of it begins on the new line.
 */
export async function migratePieces(change: Change, migration: Migration): Promise<Result<Migrated>> {
  const { tx, now } = change;
  const revisions = await tx
    .select({ id: workflowRevision.id })
    .from(workflowRevision)
    .where(eq(workflowRevision.workflowId, migration.workflowId));
  const old = revisions.map((one) => one.id).filter((id) => id !== migration.revisionId);
  if (old.length === 0) return accept({ stayed: 0, moved: 0, behind: 0 });
  const documents = await loadDocuments(tx, old);
  const places = await loadPlaces(tx);
  const team = await loadTeam(tx, localDate(now, places.calendar.timeZone));
  const fates = fatesOf(documents, migration);
  const total: Migrated = { stayed: 0, moved: 0, behind: 0 };
  const stranded: Row[] = [];
  const telling = new Telling();
  for (let last = ""; ; ) {
    const rows = await tx
      .select()
      .from(piece)
      .where(
        and(
          inArray(piece.workflowRevisionId, old),
          eq(piece.inFlight, true),
          isNull(piece.deletedAt),
          gt(piece.id, last),
        ),
      )
      .orderBy(asc(piece.id))
      .limit(BATCH)
      .for("update");
    if (rows.length === 0) break;
    last = rows.at(-1)?.id as string;
    const going: Rerouted[] = [];
    for (const row of rows) {
      const group = groupKey(row.workflowRevisionId, row.stateKey);
      const fate = migration.choices.pieces[row.id] ?? migration.choices.states[group] ?? fates.get(group);
      const to = fate && landing(migration.document, row.stateKey, fate);
      if (!fate || (to && !mayLand(to))) stranded.push(row);
      else if (!to) total.behind += 1;
      else {
        const from = stateOf(documents.get(row.workflowRevisionId) as Workflow, row.stateKey);
        going.push({ row, from, to, moved: to.key !== row.stateKey });
      }
    }
    total.moved += going.filter((one) => one.moved).length;
    total.stayed += going.filter((one) => !one.moved).length;
    await reroute(change, going, migration, places, team, telling);
  }
  if (stranded.length > 0) {
    return refuse({
      code: "stranded",
      sentence: `${stranded.length === 1 ? "One piece has" : `${stranded.length} pieces have`} nowhere to go. Choose where.`,
      missing: stranded.slice(0, 20).map((row) => row.title),
    });
  }
  telling.send(change, migration.document.name);
  await followEnded(change, documents, migration);
  return accept(total);
}

function fatesOf(documents: ReadonlyMap<string, Workflow>, { document }: Migration): Map<string, Fate> {
  const fates = new Map<string, Fate>();
  for (const [revisionId, before] of documents)
    for (const { state, fate } of propose(before, document)) if (fate) fates.set(groupKey(revisionId, state.key), fate);
  return fates;
}

/** What is live or closed goes along where the same people see it there as before. */
async function followEnded(
  { tx }: Change,
  documents: ReadonlyMap<string, Workflow>,
  { document, revisionId }: Migration,
): Promise<void> {
  for (const [oldId, before] of documents) {
    const same = before.states.filter((state) => {
      const after = document.states.find((one) => one.key === state.key);
      return ends(state) && after?.kind === state.kind && after.viewers.join() === state.viewers.join();
    });
    if (same.length === 0) continue;
    const keys = same.map((state) => state.key);
    await tx
      .update(piece)
      .set({ workflowRevisionId: revisionId })
      .where(and(eq(piece.workflowRevisionId, oldId), inArray(piece.stateKey, keys), isNull(piece.deletedAt)));
  }
}

/** Puts pieces on a revision, each at its state, with everything that belongs to an arrival there. */
export async function reroute(
  change: Change,
  going: readonly Rerouted[],
  migration: Pick<Migration, "revisionId" | "number">,
  places: Places,
  team: Team,
  telling: Telling,
): Promise<void> {
  if (going.length === 0) return;
  for (const group of grouped(going)) await settleGroup(change, group, migration, places);
  await layDown(change, going, places, team, telling);
  await reopenRounds(change, going, places, team, telling);
  for (const { row, from, to, moved } of going) {
    change.record({
      action: "piece.rerouted",
      pieceId: row.id,
      subjectId: migration.revisionId,
      before: { state: from.key, name: from.name, revisionId: row.workflowRevisionId },
      after: { state: to.key, name: to.name, revision: migration.number, moved },
    });
    const words = `“${row.title}” is now in ${to.name}: its workflow was changed`;
    if (moved) telling.add([row.authorId], { words, waits: false, piece: row });
  }
}

/** Pieces that share a state before and after. */
function grouped(going: readonly Rerouted[]): Rerouted[][] {
  const groups = new Map<string, Rerouted[]>();
  for (const one of going) {
    const key = `${one.row.workflowRevisionId} ${one.from.key} ${one.to.key}`;
    groups.set(key, [...(groups.get(key) ?? []), one]);
  }
  return [...groups.values()];
}

async function settleGroup(
  { tx, now, actor }: Change,
  group: readonly Rerouted[],
  { revisionId }: Pick<Migration, "revisionId">,
  { calendar }: Places,
): Promise<void> {
  const [{ to, moved }] = group as [Rerouted];
  const ids = group.map((one) => one.row.id);
  const arrival = moved ? { since: now, dueAt: to.take ? due(calendar, now, to.take) : null } : {};
  await tx
    .update(piece)
    .set({
      workflowRevisionId: revisionId,
      stateKey: to.key,
      stateKind: to.kind,
      restricted: !to.viewers.includes("anyone"),
      revision: sql`${piece.revision} + 1`,
      ...arrival,
    })
    .where(inArray(piece.id, ids));
  if (!moved) return;
  await tx
    .update(stay)
    .set({ leftAt: now })
    .where(and(inArray(stay.pieceId, ids), isNull(stay.leftAt)));
  const arrived = { stateKey: to.key, arrivedAt: now, step: "The workflow changed", byId: actor?.id ?? null, note: "" };
  await insertAll(
    tx,
    stay,
    ids.map((pieceId) => ({ id: newId(), pieceId, ...arrived })),
  );
}

/** Who may see it, what is to be ticked and who has it: anew where the piece moved, or where the state asks otherwise. */
async function layDown(
  change: Change,
  going: readonly Rerouted[],
  places: Places,
  team: Team,
  telling: Telling,
): Promise<void> {
  const { tx } = change;
  const differs = (one: Rerouted, part: (state: State) => unknown) =>
    one.moved || JSON.stringify(part(one.from)) !== JSON.stringify(part(one.to));
  const viewers = going.filter((one) => differs(one, (state) => state.viewers));
  await replace(tx, pieceViewer, viewers, ({ row, to }) =>
    to.viewers.includes("anyone") ? [] : [...new Set(to.viewers)].map((principal) => ({ pieceId: row.id, principal })),
  );
  const lists = going.filter((one) => differs(one, (state) => state.arrival.checklist));
  await replace(tx, checklistPoint, lists, ({ row, to }) =>
    to.arrival.checklist.map((words, position) => ({ pieceId: row.id, position, words })),
  );
  const moved = going.filter((one) => one.moved);
  const assigned = new Map(
    moved.map((one) => [one.row.id, peopleMeant(team, one.to.arrival.assign, arriving(one, places), change.now)]),
  );
  await replace(tx, assignment, moved, ({ row }) =>
    (assigned.get(row.id) ?? []).map((personId) => ({ pieceId: row.id, personId })),
  );
  for (const { row, to } of moved) {
    const words = `${to.name}: “${row.title}” is with you`;
    telling.add(assigned.get(row.id) ?? [], { words, waits: true, piece: row });
  }
}

/** Replaces what a table holds of some pieces. */
async function replace<T extends typeof pieceViewer | typeof checklistPoint | typeof assignment>(
  tx: Change["tx"],
  table: T,
  of: readonly Rerouted[],
  rows: (one: Rerouted) => T["$inferInsert"][],
): Promise<void> {
  if (of.length === 0) return;
  const ids = of.map((one) => one.row.id);
  await tx.delete(table).where(inArray(table.pieceId, ids));
  await insertAll(tx, table, of.flatMap(rows));
}

/** Closes the rounds that do not go on, and opens those that the new state asks for. */
async function reopenRounds(
  change: Change,
  going: readonly Rerouted[],
  places: Places,
  team: Team,
  telling: Telling,
): Promise<void> {
  const { tx, now } = change;
  const ended = going.filter(({ from, to }) => from.review && roundFate(from, to) !== "continues");
  const endedIds = ended.map((one) => one.row.id);
  if (endedIds.length > 0) {
    await tx
      .update(seat)
      .set({ status: "closed" })
      .where(and(inArray(seat.pieceId, endedIds), inArray(seat.status, ["open", "waiting"])));
    await tx
      .update(round)
      .set({ closedAt: now, outcome: "withdrawn" })
      .where(and(inArray(round.pieceId, endedIds), isNull(round.closedAt)));
  }
  const opening = going.filter(({ from, to }) => to.review && !(from.review && roundFate(from, to) === "continues"));
  if (opening.length === 0) return;
  const ids = opening.map((one) => one.row.id);
  const numbers = await tx
    .select({ pieceId: round.pieceId, number: sql<number>`max(${round.number})` })
    .from(round)
    .where(inArray(round.pieceId, ids))
    .groupBy(round.pieceId);
  const lastNumber = new Map(numbers.map((one) => [one.pieceId, Number(one.number)]));
  const versions = await tx
    .select({ pieceId: version.pieceId, number: version.number, hash: version.hash })
    .from(version)
    .innerJoin(piece, eq(piece.currentVersionId, version.id))
    .where(inArray(piece.id, ids));
  const versionOf = new Map(versions.map((one) => [one.pieceId, one]));
  const seated: SeatedRound[] = opening.map((one) =>
    callStatuses(
      seatRound(one.row, one.to, arriving(one, places), team, {
        number: (lastNumber.get(one.row.id) ?? 0) + 1,
        dueAt: one.moved ? (one.to.take ? due(places.calendar, now, one.to.take) : null) : one.row.dueAt,
        now,
      }),
    ),
  );
  await insertAll(
    tx,
    round,
    seated.map((one) => one.row),
  );
  await insertAll(
    tx,
    seat,
    seated.flatMap((one) => one.seats),
  );
  for (const [i, { row: opened, seats }] of seated.entries()) {
    const { row, to } = opening[i] as Rerouted;
    change.record({
      action: "round.opened",
      pieceId: row.id,
      subjectId: opened.id,
      after: {
        state: to.key,
        rule: opened.rule,
        version: versionOf.get(row.id)?.number,
        hash: versionOf.get(row.id)?.hash,
      },
    });
    const called = seats.filter((one) => one.status === "open").map((one) => one.personId);
    telling.add(called, { words: `${to.name}: “${row.title}” waits on you`, waits: true, piece: row });
  }
}

/** The piece where it arrives: nobody has it yet, and no seat is taken. */
const arriving = ({ row, to }: Rerouted, places: Places) =>
  targetOf(row, to, places, { assigneeIds: [], seatedIds: [] });
