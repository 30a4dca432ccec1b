import { data } from "react-router";
import { z } from "zod";
import type { FormAnswer } from "#app/form-answer.ts";
import { named } from "#app/forms.ts";
import { answered, misread, readForm, runCommand } from "#app/request.ts";
import type { Result } from "#core/refusal.ts";
import { apart } from "#server/apart/pool.ts";
import { orProblem } from "#server/apart/turns.ts";
import { addAbsences, nameStandIn, removeAbsence } from "#server/people/absence.ts";
import { CALENDAR_BYTES, type Stretch } from "#server/people/calendar-file.ts";
import type { Viewer } from "#server/viewer.ts";
import type { Act } from "#server/write.ts";

type Run<V> = (act: Act, personId: string, values: V) => Promise<Result<null>>;

/** A form and the command it leads to, tied together by what the one reads and the other takes. */
const form = <S extends z.ZodType>(schema: S, run: Run<z.output<S>>) => ({ schema, run: run as Run<unknown> });

const day = z.iso.date("This is no date.");
const stretch = z
  .string()
  .regex(/^\d{4}-\d\d-\d\d\/\d{4}-\d\d-\d\d$/)
  .transform((text) => {
    const [from = "", until = ""] = text.split("/");
    return { from, until };
  });

const FORMS: Record<string, ReturnType<typeof form>> = {
  away: form(z.object({ from: day, until: day }), (act, personId, days) =>
    addAbsences(act, { personId, days: [days] }),
  ),
  back: form(z.object({ absenceId: z.uuid() }), (act, personId, { absenceId }) =>
    removeAbsence(act, { personId, absenceId }),
  ),
  "stand-in": form(
    z.object({ standInId: z.union([z.literal("").transform(() => null), z.uuid()]) }),
    (act, personId, { standInId }) => nameStandIn(act, { personId, standInId }),
  ),
  days: form(z.object({ days: z.array(stretch).default([]) }), (act, personId, { days }) =>
    addAbsences(act, { personId, days }),
  ),
};

/** What the forms about somebody's days away answer; null where the intent is none of theirs. */
export async function away(intent: string, sent: FormData, act: Act, personId: string, viewer: Viewer) {
  if (intent === "calendar") return readFile(sent, viewer);
  const chosen = named(FORMS, intent);
  if (!chosen) return null;
  const read = readForm(chosen.schema, sent);
  if ("fields" in read) return misread(intent, read.fields);
  const done = await runCommand(intent, () => chosen.run(act, personId, read.values));
  return "value" in done ? answered(intent) : done;
}

/** An answer that brings the days found in a calendar's file, to choose from. */
export type FoundDays = FormAnswer & { found: Stretch[] };

async function readFile(sent: FormData, viewer: Viewer) {
  const file = sent.get("file");
  if (!(file instanceof File) || file.size === 0) return misread("calendar", { file: "Choose a file." });
  if (file.size > CALENDAR_BYTES) return misread("calendar", { file: "The file is larger than 1 MB." });
  const source = await file.text();
  const read = await orProblem(
    apart("calendarIn", { source, zone: viewer.calendar.timeZone, now: viewer.now }, viewer.id),
  );
  if ("problem" in read) return misread("calendar", { file: read.problem });
  if (read.stretches.length === 0) return misread("calendar", { file: "No days that lie ahead are in it." });
  return data<FoundDays>({ ...answered("calendar"), found: read.stretches });
}
