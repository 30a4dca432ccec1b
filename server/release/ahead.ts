import { and, eq, gt, inArray, isNotNull, sql } from "drizzle-orm";
import { editionMade } from "#core/events/editions.ts";
import type { EditionPlan } from "#core/release/edition.ts";
import { datesOf } from "#core/release/rhythm.ts";
import { opens, type Windows } from "#core/release/window.ts";
import type { Calendar } from "#core/time/calendar.ts";
import { arriveBy } from "#core/time/due.ts";
import { newId } from "../db/schema/columns.ts";
import { channel, edition, editionItem } from "../db/schema/index.ts";
import { cancel, schedule } from "../tasks/schedule.ts";
import type { Change } from "../write.ts";

/** So many editions are made ahead of time, within so many milliseconds but for the very next. */
const [AHEAD, WITHIN] = [6, 200 * 86_400_000];

/** What an edition is called. */
export const editionName = ({ called }: Pick<EditionPlan, "called">, number: number) => `${called} ${number}`;

/** When an edition closes that leaves at an instant. */
export const closesAt = ({ closes }: Pick<EditionPlan, "closes">, calendar: Calendar, at: number): number =>
  closes === null ? at : arriveBy(calendar, at, closes);

/**
 * Makes an edition of a channel.
 *
 * @param madeFor the date of the rhythm it is made for; null where somebody asked for it
 * @param freed the number of one that went, which it takes over; the next one where it is left out
 */
export async function layEdition(
  change: Change,
  of: { key: string; windows: Windows; editions: EditionPlan },
  { wish, madeFor, freed }: { wish: number; madeFor: number | null; freed?: number | undefined },
  calendar: Calendar,
): Promise<{ id: string; number: number; at: number }> {
  const { tx } = change;
  const at = opens(of.windows, wish) ?? wish;
  const [row] = await tx
    .select({ number: channel.nextNumber })
    .from(channel)
    .where(eq(channel.key, of.key))
    .for("update");
  const number = freed ?? row?.number ?? 1;
  const id = newId();
  await tx.insert(edition).values({
    id,
    channel: of.key,
    number,
    madeFor,
    at,
    closesAt: closesAt(of.editions, calendar, at),
    status: "gathering",
    holds: [],
  });
  if (freed === undefined)
    await tx
      .update(channel)
      .set({ nextNumber: number + 1 })
      .where(eq(channel.key, of.key));
  await schedule(tx, { kind: "edition", subject: id, dueAt: at });
  const named = { channel: of.key, number, edition: editionName(of.editions, number) };
  change.happened(editionMade, { ...named, at }, { subjectId: id });
  return { id, number, at };
}

/** Makes the next editions of a channel by its rhythm, as far as they are not there; empty ones of another rhythm go. */
export async function layAhead(
  change: Change,
  of: { key: string; windows: Windows; editions: EditionPlan | null },
  calendar: Calendar,
): Promise<void> {
  const { tx, now } = change;
  if (!of.editions?.rhythm) return;
  const editions = of.editions;
  const dates = datesOf(editions.rhythm as NonNullable<EditionPlan["rhythm"]>, calendar.timeZone, now, AHEAD).filter(
    (date, i) => i === 0 || date < now + WITHIN,
  );
  const there = await tx
    .select({
      id: edition.id,
      number: edition.number,
      madeFor: edition.madeFor,
      status: edition.status,
      items: sql<number>`(SELECT COUNT(*) FROM ${editionItem} WHERE ${editionItem.editionId} = ${edition.id})`.mapWith(
        Number,
      ),
    })
    .from(edition)
    .where(and(eq(edition.channel, of.key), isNotNull(edition.madeFor), gt(edition.madeFor, now)));
  const astray = there.filter(
    ({ madeFor, status, items }) => items === 0 && status === "gathering" && !dates.includes(madeFor ?? 0),
  );
  const gone = astray.map((one) => one.id);
  if (gone.length > 0) {
    await cancel(tx, "edition", gone);
    await tx.delete(edition).where(inArray(edition.id, gone));
  }
  const kept = new Set(there.filter((one) => !gone.includes(one.id)).map((one) => one.madeFor));
  const numbers = astray.map((one) => one.number).sort((a, b) => a - b);
  for (const date of dates.filter((one) => !kept.has(one)))
    await layEdition(change, { ...of, editions }, { wish: date, madeFor: date, freed: numbers.shift() }, calendar);
}
