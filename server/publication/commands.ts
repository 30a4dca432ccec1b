import { and, asc, eq, isNotNull, isNull } from "drizzle-orm";
import { z } from "zod";
import { publicationChanged } from "#core/events/places.ts";
import { dueIn } from "#core/passage/arrive.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { READY_KINDS, readKinds } from "#core/remarks/thread.ts";
import { type Calendar, isZone } from "#core/time/calendar.ts";
import { calendarSchema } from "#core/time/calendar-format.ts";
import { stateOf, type Workflow } from "#core/workflow/document.ts";
import { administering } from "../access/administer.ts";
import { visible } from "../access/visible.ts";
import type { Queryable } from "../db/client.ts";
import { piece, publication } from "../db/schema/index.ts";
import { loadDocuments } from "../piece/documents.ts";
import { moveDue } from "../review/dates.ts";
import { remindAnew } from "../tasks/schedule.ts";
import type { Viewer } from "../viewer.ts";
import type { Act } from "../write.ts";

export const publicationInput = z.object({
  name: z.string().trim().min(1, "Give the publication a name.").max(120, "At most 120 characters fit."),
  calendar: calendarSchema,
  /** Sorts of remarks, a name a line; what there is where it is not sent. */
  remarkKinds: z.string().max(2_000).optional(),
  revision: z.coerce.number().int(),
});
export type PublicationChange = z.infer<typeof publicationInput>;

/** A piece whose due date follows the working calendar, and where another calendar would put it. */
export interface Shift {
  id: string;
  slug: string;
  title: string;
  before: number;
  after: number;
}

/** The due dates that would move with another calendar: those the state's own time gave, not those somebody chose. */
async function shiftsOf(db: Queryable, seen: Parameters<typeof and>[0], calendar: Calendar): Promise<Shift[]> {
  const rows = await db
    .select()
    .from(piece)
    .where(
      and(eq(piece.inFlight, true), isNull(piece.deletedAt), isNotNull(piece.dueAt), eq(piece.dueChosen, false), seen),
    )
    .orderBy(asc(piece.dueAt), asc(piece.id));
  const documents = await loadDocuments(
    db,
    rows.map((row) => row.workflowRevisionId),
  );
  return rows.flatMap((row) => {
    const state = stateOf(documents.get(row.workflowRevisionId) as Workflow, row.stateKey);
    const after = dueIn(state, { calendar, now: row.since, publishAt: row.publishAt });
    if (after === null || row.dueAt === null || after === row.dueAt) return [];
    return [{ id: row.id, slug: row.slug, title: row.title, before: row.dueAt, after }];
  });
}

/** What another calendar would shift, as far as the viewer may see the pieces. */
export const previewCalendar = (db: Queryable, viewer: Viewer, calendar: Calendar): Promise<Shift[]> =>
  shiftsOf(db, visible(viewer), calendar);

/** Changes the publication's name, zone and working calendar; the due dates the calendar gave move with it. */
export function changePublication(act: Act, wanted: PublicationChange): Promise<Result<{ shifted: number }>> {
  return administering(act, "publication.edit", async (change) => {
    const { tx } = change;
    const [row] = await tx.select().from(publication).for("update");
    if (!row) throw new Error("there is no publication");
    if (row.revision !== wanted.revision)
      return refuse({
        code: "stale",
        sentence: "The publication was changed meanwhile. Look at it as it is now; what you chose is still here.",
      });
    if (!isZone(wanted.calendar.timeZone))
      return refuse({ code: "unknown-zone", field: "zone", sentence: "There is no such time zone." });
    const present = row.remarkKinds ?? READY_KINDS;
    const read = wanted.remarkKinds === undefined ? { kinds: present } : readKinds(wanted.remarkKinds, present);
    if ("problem" in read) return refuse({ code: "kinds", field: "remarkKinds", sentence: read.problem });
    const shifts = await shiftsOf(tx, undefined, wanted.calendar);
    for (const { id, after } of shifts) await moveDue(change, id, after);
    await remindAnew(tx, change.now);
    const { name, calendar } = wanted;
    await tx
      .update(publication)
      .set({ name, calendar, remarkKinds: [...read.kinds], revision: row.revision + 1 })
      .where(eq(publication.id, row.id));
    change.happened(
      publicationChanged,
      { name, calendar, shifted: shifts.length },
      { subjectId: row.id, before: { name: row.name, calendar: row.calendar } },
    );
    return accept({ shifted: shifts.length });
  });
}

/** The publication as its settings show it. */
export async function publicationSettings(db: Queryable) {
  const [row] = await db.select().from(publication).limit(1);
  if (!row) throw new Error("there is no publication");
  const remarkKinds = (row.remarkKinds ?? READY_KINDS).map((kind) => kind.name).join("\n");
  return { name: row.name, calendar: calendarSchema.parse(row.calendar), remarkKinds, revision: row.revision };
}
