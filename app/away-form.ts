import { data } from "react-router";
import { z } from "zod";
import type { FormAnswer } from "#app/form-answer.ts";
import { answered, misread, readForm, runCommand } from "#app/request.ts";
import { addAbsences, nameStandIn, removeAbsence } from "#server/people/absence.ts";
import { CALENDAR_BYTES, readCalendarFile, type Stretch } from "#server/people/calendar-file.ts";
import type { Viewer } from "#server/viewer.ts";
import type { Act } from "#server/write.ts";

const day = z.iso.date("This is no date.");
const forms = {
  away: z.object({ from: day, until: day }),
  back: z.object({ absenceId: z.uuid() }),
  "stand-in": z.object({ standInId: z.union([z.literal("").transform(() => null), z.uuid()]) }),
  days: z.object({ days: z.array(z.string().regex(/^\d{4}-\d\d-\d\d\/\d{4}-\d\d-\d\d$/)).default([]) }),
};

/** What the forms about days away answer; null where the intent is none of theirs. */
export async function away(intent: string, form: FormData, act: Act, personId: string, viewer: Viewer) {
  if (intent === "calendar") return readFile(form, viewer);
  if (!Object.hasOwn(forms, intent)) return null;
  const read = readForm(forms[intent as keyof typeof forms] as z.ZodType<Record<string, unknown>>, form);
  if ("fields" in read) return misread(intent, read.fields);
  const done = await runCommand(intent, () => run(intent as keyof typeof forms, read.values, act, personId));
  return "value" in done ? answered(intent) : done;
}

function run(intent: keyof typeof forms, values: Record<string, unknown>, act: Act, personId: string) {
  if (intent === "away") return addAbsences(act, { personId, days: [values as { from: string; until: string }] });
  if (intent === "back") return removeAbsence(act, { personId, absenceId: values.absenceId as string });
  if (intent === "stand-in") return nameStandIn(act, { personId, standInId: values.standInId as string | null });
  const days = (values.days as string[]).map((text) => {
    const [from = "", until = ""] = text.split("/");
    return { from, until };
  });
  return addAbsences(act, { personId, days });
}

/** An answer that brings the days found in a calendar's file, to choose from. */
export type FoundDays = FormAnswer & { found: Stretch[] };

async function readFile(form: FormData, viewer: Viewer) {
  const file = form.get("file");
  if (!(file instanceof File) || file.size === 0) return misread("calendar", { file: "Choose a file." });
  if (file.size > CALENDAR_BYTES) return misread("calendar", { file: "The file is larger than 1 MB." });
  const read = readCalendarFile(await file.text(), viewer.zone, viewer.now);
  if ("problem" in read) return misread("calendar", { file: read.problem });
  if (read.stretches.length === 0) return misread("calendar", { file: "No days that lie ahead are in it." });
  return data<FoundDays>({ ...answered("calendar"), found: read.stretches });
}
