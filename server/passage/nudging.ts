import { and, desc, eq, inArray } from "drizzle-orm";
import { z } from "zod";
import { pieceNudged } from "#core/events/pieces.ts";
import { accept, type Refusal, type Result, refuse } from "#core/refusal.ts";
import { isVacant } from "#core/review/seating.ts";
import { due } from "#core/time/due.ts";
import { sayInstant } from "#core/time/words.ts";
import { list } from "#core/words/say.ts";
import { whoMay } from "../access/who.ts";
import { ledger, person } from "../db/schema/index.ts";
import type { Piece } from "../piece/facts.ts";
import { type Opened, openBare } from "../piece/open.ts";
import { loadOpenRound, recipients } from "../review/rounds.ts";
import { type Act, type Change, write } from "../write.ts";

export const nudgeInput = z.object({ pieceId: z.uuid() });

/**
 * Reminds whoever has a piece that somebody waits for it: its author, whoever sent it, or who may pass it on.
 * Of one piece nobody is reminded twice in a working day.
 *
 * @returns who was reminded
 */
export function nudge(act: Act, wanted: z.output<typeof nudgeInput>): Promise<Result<{ people: string[] }>> {
  return write(act, async (change) => {
    const opened = await openBare(change, wanted.pieceId);
    if (!opened.ok) return opened;
    const { facts, actor, places } = opened.value;
    const current = await loadOpenRound(change.tx, facts.piece.id);
    const waits =
      facts.piece.authorId === actor.id ||
      current?.row.senderId === actor.id ||
      (await whoMay(change.tx, "piece.route", facts.target, change.now)).some((one) => one.id === actor.id);
    if (!waits) return refuse({ code: "not-granted", sentence: "You do not wait for this piece." });
    const often = await alreadyToday(change, opened.value, places.calendar);
    if (often) return refuse(often);
    const asked = current?.seats.filter((one) => one.status === "open" && !isVacant(one.flag)) ?? [];
    const others = await holders(change, facts);
    const told = [...recipients(asked), ...others.map(({ id }) => ({ to: id, params: {} }))].filter(
      ({ to }) => to !== actor.id,
    );
    const people = [...asked.map((one) => one.name), ...others.map((one) => one.name)];
    if (told.length === 0)
      return refuse({ code: "nobody", sentence: "It waits on nobody else just now. Look at the piece for what does." });
    change.happened(
      pieceNudged,
      { people: [...new Set(people)], state: facts.state.name, dueAt: facts.piece.dueAt },
      { pieceId: facts.piece.id, tell: asked.length > 0 ? { called: told } : { having: told } },
    );
    return accept({ people: [...new Set(people)] });
  });
}

/** Those a piece is assigned to. */
async function holders({ tx }: Change, { target }: Piece): Promise<{ id: string; name: string }[]> {
  const ids = target.piece?.assigneeIds ?? [];
  if (ids.length === 0) return [];
  return tx
    .select({ id: person.id, name: person.name })
    .from(person)
    .where(inArray(person.id, [...ids]));
}

/** Why nobody is reminded of a piece just now: they were, in this working day. Null where they may be. */
async function alreadyToday(
  { tx, now }: Change,
  { facts, places }: Pick<Opened<Piece>, "facts" | "places">,
  calendar: Opened["places"]["calendar"],
): Promise<Refusal | null> {
  const [last] = await tx
    .select({ at: ledger.at, after: ledger.after })
    .from(ledger)
    .where(and(eq(ledger.pieceId, facts.piece.id), eq(ledger.action, pieceNudged.name)))
    .orderBy(desc(ledger.seq))
    .limit(1);
  if (!last) return null;
  const again = due(calendar, last.at, "0wd");
  if (again <= now) return null;
  const { people = [] } = (last.after ?? {}) as { people?: string[] };
  const until = sayInstant(again, places.calendar.timeZone, now);
  return {
    code: "often",
    sentence: `${list(people)} heard of it in this working day. You may ask again after ${until}.`,
  };
}
