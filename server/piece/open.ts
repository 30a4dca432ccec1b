import { and, desc, eq, isNull } from "drizzle-orm";
import { can } from "#core/access/decide.ts";
import { accept, type Refusal, type Result, refuse } from "#core/refusal.ts";
import { sayInstant } from "#core/time/words.ts";
import { loadHolder, type Person } from "../access/holders.ts";
import { ledger, piece } from "../db/schema/index.ts";
import { loadPlaces, type Places } from "../sections/places.ts";
import type { Change } from "../write.ts";
import { completed, loadPiece, type Piece, type PieceFacts } from "./facts.ts";

/** What a command on a piece begins with: the piece, locked, and the person who acts on it. */
export interface Opened<P extends Piece = PieceFacts> {
  facts: P;
  places: Places;
  actor: Person;
}

/** What one may not see and what is not there get the same answer. */
export const NOT_FOUND: Refusal = { code: "not-found", sentence: "There is no such piece." };

/**
 * Locks a piece for a command of a person who may at least read it; its text is not loaded.
 *
 * @param revision the piece's revision the person saw, where an overlooked change matters
 */
export async function openBare(change: Change, pieceId: string, revision?: number): Promise<Result<Opened<Piece>>> {
  const places = await loadPlaces(change.tx);
  const facts = await loadPiece(change.tx, places, and(eq(piece.id, pieceId), isNull(piece.deletedAt)), true);
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

/** Locks a piece with everything a step of it may ask for, as {@link openBare} does. */
export async function openPiece(change: Change, pieceId: string, revision?: number): Promise<Result<Opened>> {
  const opened = await openBare(change, pieceId, revision);
  if (!opened.ok) return opened;
  return accept({ ...opened.value, facts: await completed(change.tx, opened.value.facts) });
}

/** Who changed a piece last, and when, in a sentence. */
async function lastChange(change: Change, facts: Piece, places: Places): Promise<string> {
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
