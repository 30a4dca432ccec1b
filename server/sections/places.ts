import { asc } from "drizzle-orm";
import { type Calendar, calendarSchema } from "#core/time/calendar.ts";
import type { Queryable } from "../db/client.ts";
import { publication, section } from "../db/schema/index.ts";

export type Section = typeof section.$inferSelect;

/** The publication and its tree of sections: small, read whole. */
export interface Places {
  publicationId: string;
  name: string;
  calendar: Calendar;
  workflowId: string | null;
  sections: ReadonlyMap<string, Section>;
}

let lastCalendar: { text: string; calendar: Calendar } | null = null;

/** @throws Error when the database holds no publication yet */
export async function loadPlaces(db: Queryable): Promise<Places> {
  const [[found], sections] = await Promise.all([
    db.select().from(publication).limit(1),
    db.select().from(section).orderBy(asc(section.position), asc(section.name)),
  ]);
  if (!found) throw new Error("there is no publication; seed the database or set one up");
  return {
    publicationId: found.id,
    name: found.name,
    calendar: sameCalendar(found.calendar),
    workflowId: found.workflowId,
    sections: new Map(sections.map((row) => [row.id, row])),
  };
}

/** A section and every section above it, nearest first. */
export function lineage(places: Places, sectionId: string): Section[] {
  const line: Section[] = [];
  for (
    let next = places.sections.get(sectionId);
    next && !line.includes(next);
    next = next.parentId ? places.sections.get(next.parentId) : undefined
  ) {
    line.push(next);
  }
  return line;
}

/** A section and every section below it. */
export function below(places: Places, sectionId: string): string[] {
  return [...places.sections.keys()].filter((id) => lineage(places, id).some((ancestor) => ancestor.id === sectionId));
}

/** A section's name with those above it: `Routes / Winter`. */
export function pathName(places: Places, sectionId: string): string {
  return lineage(places, sectionId)
    .map((one) => one.name)
    .reverse()
    .join(" / ");
}

/** The workflow that applies in a section and where it is set: the nearest wins. */
export function boundWorkflow(places: Places, sectionId: string): { workflowId: string; from: Section | null } | null {
  const nearest = lineage(places, sectionId).find((one) => one.workflowId !== null);
  if (nearest?.workflowId) return { workflowId: nearest.workflowId, from: nearest };
  return places.workflowId ? { workflowId: places.workflowId, from: null } : null;
}

/** The same calendar object while its text is the same, so that its computed days are kept. */
function sameCalendar(stored: unknown): Calendar {
  const text = JSON.stringify(stored);
  if (lastCalendar?.text !== text) lastCalendar = { text, calendar: calendarSchema.parse(stored) };
  return lastCalendar.calendar;
}
