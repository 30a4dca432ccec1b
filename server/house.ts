import type { Database, Queryable } from "./db/client.ts";
import { kind, workflow } from "./db/schema/index.ts";
import { loadPlaces, type Places } from "./sections/places.ts";
import { loadRoster, type Roster } from "./team/queries.ts";

/** What every page asks for and what seldom changes: places, people, kinds, and the workflows in use. */
export interface House {
  places: Places;
  roster: Roster;
  kinds: (typeof kind.$inferSelect)[];
  /** The ids of the revisions in use. */
  revisions: string[];
}

/** The house as it stands now. @throws Error when the database holds no publication yet */
export async function loadHouse(db: Queryable): Promise<House> {
  const [places, roster, kinds, workflows] = await Promise.all([
    loadPlaces(db),
    loadRoster(db),
    db.select().from(kind).orderBy(kind.name),
    db.select({ current: workflow.currentRevisionId }).from(workflow),
  ]);
  return { places, roster, kinds, revisions: workflows.flatMap((row) => row.current ?? []) };
}

const kept = new WeakMap<Database, { end: number; house: Promise<House> }>();

/**
 * The house as it stood when the ledger ended at `end`, or later. Whatever changes it is on the ledger,
 * in the same transaction; while that has not grown, a node answers from what it read last.
 *
 * @param end the ledger's last number, read before anything else of a request
 */
export function houseAt(db: Database, end: number): Promise<House> {
  const known = kept.get(db);
  if (known && known.end >= end) return known.house;
  const house = loadHouse(db);
  const entry = { end, house };
  kept.set(db, entry);
  house.catch(() => {
    if (kept.get(db) === entry) kept.delete(db);
  });
  return house;
}
