import { eq, inArray } from "drizzle-orm";
import { textTaken } from "#core/events/text.ts";
import type { Refusal } from "#core/refusal.ts";
import { sayInstant } from "#core/time/words.ts";
import type { Queryable } from "../db/client.ts";
import { person, textHolder } from "../db/schema/index.ts";
import type { Change } from "../write.ts";
import type { PieceFacts } from "./facts.ts";

/** A window nothing is heard from for so long no longer holds the text, in milliseconds. */
const HOLD = 120_000;

/** Who writes in a text, in which window, and since when. */
export interface Holder {
  personId: string;
  name: string;
  window: string;
  since: number;
  heardAt: number;
}

/** Who holds a piece's text at an instant; null when nobody does. */
export async function holderOf(db: Queryable, pieceId: string, now: number): Promise<Holder | null> {
  const [row] = await db
    .select({
      personId: textHolder.personId,
      name: person.name,
      window: textHolder.window,
      since: textHolder.since,
      heardAt: textHolder.heardAt,
    })
    .from(textHolder)
    .innerJoin(person, eq(person.id, textHolder.personId))
    .where(eq(textHolder.pieceId, pieceId));
  // A clock that was set back must not make a hold last: what was heard in the future is as old as the past.
  return row && Math.abs(now - row.heardAt) < HOLD ? row : null;
}

/**
 * Holds a piece's text for one window of the person who acts. The piece is locked already.
 *
 * @param takes whether to take it from whoever holds it; they are told
 * @returns why it cannot be held, or null
 */
export async function hold(
  change: Change,
  facts: PieceFacts,
  holding: { personId: string; window: string },
  zone: string,
  takes = false,
): Promise<Refusal | null> {
  const { tx, now } = change;
  const pieceId = facts.piece.id;
  const current = await holderOf(tx, pieceId, now);
  const same = current?.personId === holding.personId && current.window === holding.window;
  if (current && !same && !takes) return heldBy(current, holding.personId, zone, now);
  const row = { ...holding, since: same ? current.since : now, heardAt: now };
  await tx
    .insert(textHolder)
    .values({ pieceId, ...row })
    .onDuplicateKeyUpdate({ set: row });
  if (current && current.personId !== holding.personId) {
    change.happened(
      textTaken,
      { person: current.name, version: facts.version.number },
      {
        pieceId,
        subjectId: current.personId,
        before: { holder: current.name },
        tell: { holder: [current.personId] },
      },
    );
  }
  return null;
}

/** Why a person cannot change a text at one stroke, without writing in it: somebody else does. */
export async function heldByOther(
  change: Change,
  { piece }: PieceFacts,
  personId: string,
  zone: string,
): Promise<Refusal | null> {
  const holder = await holderOf(change.tx, piece.id, change.now);
  return holder && holder.personId !== personId ? heldBy(holder, personId, zone, change.now) : null;
}

/** Lets texts go, whoever holds them: a hand-over. */
export const letGo = (change: Change, pieceIds: readonly string[]) =>
  change.tx.delete(textHolder).where(inArray(textHolder.pieceId, [...pieceIds]));

function heldBy(holder: Holder, personId: string, zone: string, now: number): Refusal {
  const since = sayInstant(holder.since, zone, now);
  const sentence =
    holder.personId === personId
      ? `You write in this text in another window, since ${since}.`
      : `${holder.name} writes in this text, since ${since}.`;
  return { code: "held", sentence, who: [holder.name] };
}
