import { and, asc, eq, gte, inArray } from "drizzle-orm";
import { type Earliest, type EditionAhead, earliest } from "#core/intake/earliest.ts";
import { appliedWorkflow } from "#core/sections/tree.ts";
import { localDate } from "#core/time/local.ts";
import type { Leg } from "#core/time/plan.ts";
import { stateOf } from "#core/workflow/document.ts";
import { legsFrom } from "#core/workflow/legs.ts";
import type { Queryable } from "../db/client.ts";
import { channel, edition, workflow } from "../db/schema/index.ts";
import { loadDocuments } from "../piece/documents.ts";
import type { Places } from "../sections/places.ts";
import type { FormRow } from "./forms.ts";

/** So many editions ahead are looked at. */
const EDITIONS = 30;

/**
 * When what is asked for by a form now can be out, and whether a date can be met.
 *
 * @param wished epoch milliseconds
 * @returns null where the calendar has too little working time to say
 */
export async function earliestBy(
  db: Queryable,
  places: Places,
  form: FormRow,
  wished: number | null,
  now: number,
): Promise<Earliest | null> {
  const [legs, editions] = await Promise.all([
    legsAhead(db, places, form, now),
    form.channel === null ? [] : editionsAhead(db, form.channel, now),
  ]);
  try {
    return earliest({ calendar: places.calendar, now }, form.lead, legs, editions, wished);
  } catch (error) {
    if (error instanceof RangeError) return null;
    throw error;
  }
}

async function legsAhead(db: Queryable, places: Places, form: FormRow, now: number): Promise<Leg[]> {
  const applied = appliedWorkflow(places, form.sectionId, form.kindId, localDate(now, places.calendar.timeZone));
  if (!applied) return [];
  const [row] = await db.select().from(workflow).where(eq(workflow.id, applied.binding.workflowId));
  const document = (await loadDocuments(db, [row?.currentRevisionId ?? ""])).get(row?.currentRevisionId ?? "");
  return document ? legsFrom(document, stateOf(document, document.initial)) : [];
}

async function editionsAhead(db: Queryable, key: string, now: number): Promise<EditionAhead[]> {
  const rows = await db
    .select({ channel: channel.name, at: edition.at, closesAt: edition.closesAt })
    .from(edition)
    .innerJoin(channel, eq(channel.key, edition.channel))
    .where(and(eq(edition.channel, key), gte(edition.at, now), inArray(edition.status, ["gathering"])))
    .orderBy(asc(edition.at))
    .limit(EDITIONS);
  return rows.map(({ channel: name, ...times }) => ({ name, ...times }));
}
