import { z } from "zod";
import { fromLocalInput } from "#core/time/local.ts";
import type { Granting } from "#server/people/grants.ts";

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

/** What such a form asks for. @param pieceId of the piece that was named, or null where there is none to see */
export function grantOf(values: GrantValues, pieceId: string | null): Granting {
  const { roleKey, scope, from, until, publishFrom, publishUntil } = values;
  const ids = { publication: null, section: values.section || null, kind: values.kind || null, piece: pieceId };
  return { roleKey, scope, scopeId: ids[scope], from, until, publishFrom, publishUntil };
}
