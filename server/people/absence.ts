import { and, asc, eq, gte, lte } from "drizzle-orm";
import { can, PUBLICATION } from "#core/access/decide.ts";
import { absenceNoted, absenceRemoved, standInNamed } from "#core/events/people.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { fromLocalInput, localDate } from "#core/time/local.ts";
import { notHere } from "../access/who.ts";
import type { Queryable } from "../db/client.ts";
import { newId } from "../db/schema/columns.ts";
import { absence, person } from "../db/schema/index.ts";
import { piecesWithWork, relieve } from "../passage/relief.ts";
import { loadPlaces } from "../sections/places.ts";
import { cancel, schedule } from "../tasks/schedule.ts";
import { awayOn } from "../team/queries.ts";
import { type Act, type Change, write } from "../write.ts";

const LONGEST = 366;
const DAY = 86_400_000;

/** Days away; local dates, inclusive. */
export interface Days {
  from: string;
  until: string;
}

/** A person's absences from a day on. */
export const absencesOf = (db: Queryable, personId: string, today: string) =>
  db
    .select({ id: absence.id, from: absence.from, until: absence.until })
    .from(absence)
    .where(and(eq(absence.personId, personId), gte(absence.until, today)))
    .orderBy(asc(absence.from));

/** Notes days away, one's own or, for who may say who does what, somebody's. Open seats move at once where they begin today. */
export function addAbsences(act: Act, wanted: { personId: string; days: readonly Days[] }): Promise<Result<null>> {
  return concerning(act, wanted.personId, async (change) => {
    for (const { from, until } of wanted.days) {
      if (until < from)
        return refuse({ code: "empty-period", field: "until", sentence: "The absence would end before it begins." });
      if (Date.parse(until) - Date.parse(from) > LONGEST * DAY)
        return refuse({ code: "too-long", field: "until", sentence: "An absence lasts a year at most." });
      await join(change, wanted.personId, { from, until });
    }
    return accept(null);
  });
}

/** The local date so many days from another. */
const dayBeside = (day: string, by: number) => new Date(Date.parse(day) + by * DAY).toISOString().slice(0, 10);

/** Days that overlap or touch become one stretch, so that none is listed twice. */
async function join({ tx, happened }: Change, personId: string, days: Days): Promise<void> {
  const touching = await tx
    .select()
    .from(absence)
    .where(
      and(
        eq(absence.personId, personId),
        lte(absence.from, dayBeside(days.until, 1)),
        gte(absence.until, dayBeside(days.from, -1)),
      ),
    );
  for (const row of touching) await tx.delete(absence).where(eq(absence.id, row.id));
  const all = [...touching, days];
  const from = all.map((one) => one.from).sort()[0] as string;
  const until = all
    .map((one) => one.until)
    .sort()
    .at(-1) as string;
  await tx.insert(absence).values({ id: newId(), personId, from, until });
  happened(absenceNoted, { from, until }, { subjectId: personId });
}

/** Takes days away back; seats that had moved come back. */
export function removeAbsence(act: Act, wanted: { personId: string; absenceId: string }): Promise<Result<null>> {
  return concerning(act, wanted.personId, async ({ tx, happened }) => {
    const at = and(eq(absence.id, wanted.absenceId), eq(absence.personId, wanted.personId));
    const [row] = await tx.select().from(absence).where(at);
    if (!row) return accept(null);
    await tx.delete(absence).where(at);
    happened(absenceRemoved, {}, { subjectId: wanted.personId, before: { from: row.from, until: row.until } });
    return accept(null);
  });
}

/** Says who stands in for somebody, or with null that nobody does. */
export function nameStandIn(act: Act, wanted: { personId: string; standInId: string | null }): Promise<Result<null>> {
  return concerning(act, wanted.personId, async (change) => {
    const { tx } = change;
    if (wanted.standInId === wanted.personId)
      return refuse({ code: "self", field: "standInId", sentence: "Nobody stands in for themselves." });
    const [chosen] = wanted.standInId ? await tx.select().from(person).where(eq(person.id, wanted.standInId)) : [];
    if (wanted.standInId && (!chosen?.active || chosen.guest)) return refuse(notHere("standInId"));
    const [row] = await tx.select().from(person).where(eq(person.id, wanted.personId));
    if (!row || row.standInId === wanted.standInId) return accept(null);
    await tx.update(person).set({ standInId: wanted.standInId }).where(eq(person.id, wanted.personId));
    const [before] = row.standInId ? await tx.select().from(person).where(eq(person.id, row.standInId)) : [];
    change.happened(
      standInNamed,
      { standIn: chosen?.name ?? null, of: row.name },
      {
        subjectId: wanted.personId,
        before: { standIn: before?.name ?? null },
        tell: { standIn: chosen ? [chosen.id] : [] },
      },
    );
    return accept(null);
  });
}

/** A write on somebody's days: their own, or by who may say who does what; then seats go where they belong. */
function concerning(
  act: Act,
  personId: string,
  work: (change: Change) => Promise<Result<null>>,
): Promise<Result<null>> {
  return write<null>(act, async (change) => {
    const { actor, tx, now } = change;
    if (!actor || (actor.id !== personId && !can(actor, "access.edit", PUBLICATION, now).allowed))
      return refuse({
        code: "not-granted",
        sentence: "Only they themselves, or who gives roles, say when somebody is away.",
      });
    const done = await work(change);
    if (!done.ok) return done;
    for (const pieceId of await piecesWithWork(tx, personId)) await relieve(change, pieceId);
    const { timeZone } = (await loadPlaces(tx)).calendar;
    const next = await nextAbsenceChange(tx, personId, localDate(now, timeZone), timeZone);
    if (next === null) await cancel(tx, "absence", [personId]);
    else await schedule(tx, { kind: "absence", subject: personId, dueAt: next });
    return done;
  });
}

/**
 * When an absence of a person begins or ends next, after a local date: midnight of its first day, or
 * of the day after its last. Null where none is ahead.
 */
export async function nextAbsenceChange(
  db: Queryable,
  personId: string,
  today: string,
  zone: string,
): Promise<number | null> {
  const rows = await absencesOf(db, personId, today);
  const days = rows.flatMap(({ from, until }) => [from, dayBeside(until, 1)]).filter((day) => day > today);
  const [next] = days.sort();
  return next === undefined ? null : fromLocalInput(`${next}T00:00`, zone);
}

/** Who stands in for a person, and for that one in turn, while each is away: the chain as names, and whether it ends. */
export async function standInChain(
  db: Queryable,
  personId: string,
  now: number,
): Promise<{ names: string[]; ends: "somebody" | "nobody" | "circle" }> {
  const { calendar } = await loadPlaces(db);
  const today = localDate(now, calendar.timeZone);
  const [people, absent] = await Promise.all([
    db.select({ id: person.id, name: person.name, standInId: person.standInId, active: person.active }).from(person),
    awayOn(db, today),
  ]);
  const byId = new Map(people.map((one) => [one.id, one]));
  const met = new Set([personId]);
  const names: string[] = [];
  let next = byId.get(byId.get(personId)?.standInId ?? "");
  while (next?.active) {
    if (met.has(next.id)) return { names, ends: "circle" };
    names.push(next.name);
    if (!absent.has(next.id)) return { names, ends: "somebody" };
    met.add(next.id);
    next = byId.get(next.standInId ?? "");
  }
  return { names, ends: "nobody" };
}
