import { z } from "zod";
import { answered, misread, readForm, runCommand } from "#app/request.ts";
import { fromLocalInput } from "#core/time/local.ts";
import type { Database } from "#server/db/client.ts";
import { endGrant, type Granting, grantRole, type Receiver } from "#server/people/grants.ts";
import { pieceAsked } from "#server/pieces/why.ts";
import type { Viewer } from "#server/viewer.ts";
import type { Act } from "#server/write.ts";

const DAY = 86_400_000;

/** A day of a form as an instant: its first, or for an end the first of the day after. Null where none was given. */
const dayField = (zone: string, end: boolean) =>
  z
    .string()
    .default("")
    .transform((text, issue) => {
      if (text === "") return null;
      const known = z.iso.date().safeParse(text).success;
      const day = known && end ? new Date(Date.parse(text) + DAY).toISOString().slice(0, 10) : text;
      const at = known ? fromLocalInput(`${day}T00:00`, zone) : null;
      if (at === null) issue.addIssue({ code: "custom", message: "This is no date." });
      return at;
    });

/** The fields by which a role is given: which, for what, from and until which days, for which publish days. */
export const grantFields = (zone: string) => ({
  roleKey: z.string().max(60),
  scope: z.enum(["publication", "section", "kind", "piece"]).default("publication"),
  section: z.string().max(60).default(""),
  kind: z.string().max(60).default(""),
  piece: z.string().max(200).default(""),
  from: dayField(zone, false),
  until: dayField(zone, true),
  publishFrom: dayField(zone, false),
  publishUntil: dayField(zone, true),
});

type GrantValues = z.output<z.ZodObject<ReturnType<typeof grantFields>>>;

/** What such a form asks for. A piece is named by its slug; one the viewer may not see is none. */
export async function grantOf(db: Database, viewer: Viewer, values: GrantValues): Promise<Granting> {
  const { roleKey, scope, from, until, publishFrom, publishUntil } = values;
  const named = scope === "piece" ? await pieceAsked(db, viewer, values.piece) : null;
  const ids = {
    publication: null,
    section: values.section || null,
    kind: values.kind || null,
    piece: named?.piece.id ?? null,
  };
  return { roleKey, scope, scopeId: ids[scope], from, until, publishFrom, publishUntil };
}

/** What the forms by which a role is given or ended answer; null where the intent is neither. */
export async function granting(intent: string, form: FormData, act: Act, viewer: Viewer, to: Receiver) {
  const fields = grantFields(viewer.calendar.timeZone);
  if (intent === "give") {
    const read = readForm(z.object(fields), form);
    if ("fields" in read) return misread(intent, read.fields);
    const grant = await grantOf(act.db, viewer, read.values);
    const done = await runCommand(intent, () => grantRole(act, { to, grant }));
    return "value" in done ? answered(intent) : done;
  }
  if (intent !== "end-grant") return null;
  const read = readForm(
    z.object({ grantId: z.uuid(), when: z.enum(["now", "after", "never"]), until: fields.until }),
    form,
  );
  if ("fields" in read) return misread(intent, read.fields);
  const { grantId, when } = read.values;
  if (when === "after" && read.values.until === null) return misread(intent, { until: "Choose the last day." });
  const until = { now: viewer.now, after: read.values.until, never: null }[when];
  const done = await runCommand(intent, () => endGrant(act, { grantId, until }));
  return "value" in done ? answered(intent) : done;
}
