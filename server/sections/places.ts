import { asc, eq, ne } from "drizzle-orm";
import { type IntakeSettings, READY_INTAKE } from "#core/intake/ideas.ts";
import { READY_KINDS, type RemarkKind } from "#core/remarks/thread.ts";
import type { Tree } from "#core/sections/tree.ts";
import { READY_CHOICES, type TellingChoices } from "#core/telling/choices.ts";
import type { Calendar } from "#core/time/calendar.ts";
import { calendarSchema } from "#core/time/calendar-format.ts";
import type { Queryable } from "../db/client.ts";
import { publication, section, workflow, workflowBinding } from "../db/schema/index.ts";

/** The publication, its tree of sections and the workflows set for them: small, read whole. */
export interface Places extends Tree {
  calendar: Calendar;
  /** What sorts of remarks are told apart. */
  remarkKinds: readonly RemarkKind[];
  /** How people are told who chose nothing. */
  telling: TellingChoices;
  /** What holds for all that comes in. */
  intake: IntakeSettings;
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
    remarkKinds: found.remarkKinds ?? READY_KINDS,
    telling: found.telling ?? READY_CHOICES,
    intake: found.intake ?? READY_INTAKE,
    sections: new Map(sections.map((row) => [row.id, row])),
    bindings,
  };
}

/** The same calendar object while its text is the same, so that its computed days are kept. */
function sameCalendar(stored: unknown): Calendar {
  const text = JSON.stringify(stored);
  if (lastCalendar?.text !== text) lastCalendar = { text, calendar: calendarSchema.parse(stored) };
  return lastCalendar.calendar;
}
