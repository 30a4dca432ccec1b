import { asc, eq, ne } from "drizzle-orm";
import { type Calendar, calendarSchema } from "#core/time/calendar.ts";
import type { Queryable } from "../db/client.ts";
import { type BindingScope, publication, section, workflow, workflowBinding } from "../db/schema/index.ts";

export type Section = typeof section.$inferSelect;

/** A workflow set for a place; `from` and `until` are local dates, inclusive, null where it is always valid. */
export interface Binding {
  scope: BindingScope;
  scopeId: string;
  workflowId: string;
  workflow: string;
  validFrom: string | null;
  validUntil: string | null;
}

/** The publication, its tree of sections and the workflows set for them: small, read whole. */
export interface Places {
  publicationId: string;
  name: string;
  calendar: Calendar;
  sections: ReadonlyMap<string, Section>;
  bindings: readonly Binding[];
}

let lastCalendar: { text: string; calendar: Calendar } | null = null;

/** @throws Error when the database holds no publication yet */
export async function loadPlaces(db: Queryable): Promise<Places> {
  const [[found], sections, bindings] = await Promise.all([
    db.select().from(publication).limit(1),
    db.select().from(section).orderBy(asc(section.position), asc(section.name)),
    db
      .select({
        scope: workflowBinding.scope,
        scopeId: workflowBinding.scopeId,
        workflowId: workflow.id,
        workflow: workflow.name,
        validFrom: workflow.validFrom,
        validUntil: workflow.validUntil,
      })
      .from(workflowBinding)
      .innerJoin(workflow, eq(workflow.id, workflowBinding.workflowId))
      .where(ne(workflowBinding.scope, "piece")),
  ]);
  if (!found) throw new Error("there is no publication; seed the database or set one up");
  return {
    publicationId: found.id,
    name: found.name,
    calendar: sameCalendar(found.calendar),
    sections: new Map(sections.map((row) => [row.id, row])),
    bindings,
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

/** The workflow that applies somewhere, where it is set, and nearer ones that are not valid on that day. */
export interface Applied {
  binding: Binding;
  passedBy: Binding[];
}

/**
 * The workflow for pieces of a kind in a section: what is set for the kind, else for the section or
 * the nearest above it, else for the publication. One that is not valid on the day is passed by.
 *
 * @param kindId null asks for the section alone
 * @param today the local date
 */
export function appliedWorkflow(
  places: Places,
  sectionId: string | null,
  kindId: string | null,
  today: string,
): Applied | null {
  const nearestFirst = [
    ...(kindId ? [["kind", kindId]] : []),
    ...(sectionId ? lineage(places, sectionId).map((one) => ["section", one.id]) : []),
    ["publication", places.publicationId],
  ];
  const set = nearestFirst.flatMap(([scope, id]) =>
    places.bindings.filter((one) => one.scope === scope && one.scopeId === id),
  );
  const isValid = ({ validFrom, validUntil }: Binding) =>
    (validFrom ?? today) <= today && today <= (validUntil ?? today);
  const chosen = set.findIndex(isValid);
  return chosen < 0 ? null : { binding: set[chosen] as Binding, passedBy: set.slice(0, chosen) };
}

/** The place a workflow is set for, in words; `kinds` names kinds by id. */
export function sayBinding(places: Places, { scope, scopeId }: Binding, kinds: ReadonlyMap<string, string>): string {
  if (scope === "section") return pathName(places, scopeId);
  if (scope === "kind") return `every ${(kinds.get(scopeId) ?? "piece of that kind").toLowerCase()}`;
  return places.name;
}

/** The same calendar object while its text is the same, so that its computed days are kept. */
function sameCalendar(stored: unknown): Calendar {
  const text = JSON.stringify(stored);
  if (lastCalendar?.text !== text) lastCalendar = { text, calendar: calendarSchema.parse(stored) };
  return lastCalendar.calendar;
}
