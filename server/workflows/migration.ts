import { and, asc, eq, inArray, isNull } from "drizzle-orm";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { localDate } from "#core/time/local.ts";
import { type State, stateOf, type Workflow } from "#core/workflow/document.ts";
import { type Fate, landing, mayLand, propose } from "#core/workflow/migrate.ts";
import type { Transaction } from "../db/client.ts";
import { type Choices, piece, workflowRevision } from "../db/schema/index.ts";
import { loadDocuments } from "../piece/documents.ts";
import { loadPlaces } from "../sections/places.ts";
import { loadTeam } from "../team/queries.ts";
import type { Change, Recipient } from "../write.ts";
import { arrivalOf, type Going, type Meant, meantFor, type Rerouted, reroute } from "./rerouting.ts";

const BATCH = 500;
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

/** How a choice for all pieces in a state of a revision is named. */
export const groupKey = (revisionId: string, stateKey: string) => `${revisionId}:${stateKey}`;

/**
 * Takes the pieces in flight of every revision of a workflow along to a new one, as chosen and
 * proposed, some hundreds at a time inside the transaction that is open: readers go on reading what
 * was, and either all of it happens or nothing. What is live or closed follows where its state is
 * still there, so that a revision of it begins on the new line.
 */
export async function migratePieces(
  change: Change,
  migration: Migration,
): Promise<Result<Migrated & { told: Recipient[] }>> {
  const { tx, now } = change;
  const revisions = await tx
    .select({ id: workflowRevision.id })
    .from(workflowRevision)
    .where(eq(workflowRevision.workflowId, migration.workflowId));
  const old = revisions.map((one) => one.id).filter((id) => id !== migration.revisionId);
  if (old.length === 0) return accept({ stayed: 0, moved: 0, behind: 0, told: [] });
  const documents = await loadDocuments(tx, old);
  const places = await loadPlaces(tx);
  const team = await loadTeam(tx, localDate(now, places.calendar.timeZone));
  const fates = fatesOf(documents, migration);
  const total: Migrated = { stayed: 0, moved: 0, behind: 0 };
  const stranded: Row[] = [];
  const meant: Meant = new Map();
  const ids = await inFlightOn(tx, old);
  /** The next pieces, each with where it goes and what it finds there. */
  const next = async (from: number): Promise<Going[]> => {
    const rows = from < ids.length ? await rowsOf(tx, ids.slice(from, from + BATCH)) : [];
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
    return going.map((one) => ({ ...one, arrival: arrivalOf(change, one, migration, places, team) }));
  };
  let going = await next(0);
  for (let from = BATCH; from - BATCH < ids.length; from += BATCH) {
    // While some are written, the next are read and worked out; these are locked already, so reading
    // them cannot end the transaction under the writing. What fails there is met once that is done.
    const ahead = next(from);
    ahead.catch(() => {});
    await reroute(change, going, migration, places, meant);
    going = await ahead;
  }
  if (stranded.length > 0) {
    return refuse({
      code: "stranded",
      sentence: `${stranded.length === 1 ? "One piece has" : `${stranded.length} pieces have`} nowhere to go. Choose where.`,
      missing: stranded.slice(0, 20).map((row) => row.title),
    });
  }
  await followEnded(change, documents, migration);
  return accept({ ...total, told: meantFor(meant, migration.document.name) });
}

/** What is in flight on some revisions, by id in order, locked until the transaction ends. */
async function inFlightOn(tx: Transaction, revisionIds: readonly string[]): Promise<string[]> {
  const rows = await tx
    .select({ id: piece.id })
    .from(piece)
    .where(and(inArray(piece.workflowRevisionId, [...revisionIds]), eq(piece.inFlight, true), isNull(piece.deletedAt)))
    .orderBy(asc(piece.id))
    .for("update");
  return rows.map((row) => row.id);
}

const rowsOf = (tx: Transaction, ids: readonly string[]) =>
  tx
    .select()
    .from(piece)
    .where(inArray(piece.id, [...ids]))
    .orderBy(asc(piece.id));

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
