import { and, desc, eq, isNull } from "drizzle-orm";
import { can } from "#core/access/decide.ts";
import { accept, type Refusal, type Result, refuse } from "#core/refusal.ts";
import { sayInstant } from "#core/time/words.ts";
import { loadHolder, type Person } from "../access/holders.ts";
import { ledger, piece } from "../db/schema/index.ts";
import { loadPlaces, type Places } from "../sections/places.ts";
import type { Change } from "../write.ts";
import { loadFacts, type PieceFacts } from "./facts.ts";

/** What a command on a piece begins with: the piece, locked, and the person who acts on it. */
export interface Opened {
  facts: PieceFacts;
  places: Places;
  actor: Person;
}

/** What one may not see and what is not there get the same answer. */
export const NOT_FOUND: Refusal = { code: "not-found", sentence: "There is no such piece." };

/**
 * Locks a piece for a command of a person who may at least read it.
 *
 * @param revision the piece's revision the person saw, where an overlooked change matters
 */
export async function openPiece(change: Change, pieceId: string, revision?: number): Promise<Result<Opened>> {
  const places = await loadPlaces(change.tx);
  const facts = await loadFacts(change.tx, places, and(eq(piece.id, pieceId), isNull(piece.deletedAt)) as never, true);
  const actor = change.actor;
  if (!facts || !actor || !can(actor, "piece.read", facts.target, change.now).allowed) return refuse(NOT_FOUND);
  if (revision !== undefined && revision !== facts.piece.revision) {
    return refuse({
      code: "stale",
      sentence: `${await lastChange(change, facts, places)} Look at the piece as it is now and try again; what you wrote is kept.`,
    });
  }
  return accept({ facts, places, actor });
}

/** Who changed a piece last, and when, in a sentence. */
export async function lastChange(change: Change, facts: PieceFacts, places: Places): Promise<string> {
  const [last] = await change.tx
    .select()
    .from(ledger)
    .where(eq(ledger.pieceId, facts.piece.id))
    .orderBy(desc(ledger.seq))
    .limit(1);
  const who = last?.actorId ? await loadHolder(change.tx, last.actorId) : null;
  const when = last ? ` (${sayInstant(last.at, places.calendar.timeZone, change.now)})` : "";
  return `${who?.name ?? "Elenco"} changed the piece meanwhile${when}.`;
}
