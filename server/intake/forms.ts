import { and, asc, count, eq, inArray } from "drizzle-orm";
import { z } from "zod";
import { formSaved } from "#core/events/intake.ts";
import { ANSWER_MOST, FIELDS_MOST, OPEN_TO, requestFormSchema } from "#core/intake/form.ts";
import { OPEN } from "#core/intake/item.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { freeKey } from "#core/words/keys.ts";
import { administering } from "../access/administer.ts";
import type { Queryable } from "../db/client.ts";
import { newId } from "../db/schema/columns.ts";
import { channel, intakeItem, kind, person, requestForm, section } from "../db/schema/index.ts";
import { fieldsInput, readFields } from "../kinds/fields.ts";
import type { Act } from "../write.ts";
import { whatIsAmiss } from "./items.ts";

export type FormRow = typeof requestForm.$inferSelect;

/** Every form with what waits by it, in the order of their names. */
export async function listForms(db: Queryable) {
  const [forms, waiting] = await Promise.all([
    db
      .select({ form: requestForm, kind: kind.name, section: section.name, holder: person.name })
      .from(requestForm)
      .innerJoin(kind, eq(kind.id, requestForm.kindId))
      .innerJoin(section, eq(section.id, requestForm.sectionId))
      .leftJoin(person, eq(person.id, requestForm.holderId))
      .orderBy(asc(requestForm.name)),
    db
      .select({ id: intakeItem.formId, waits: count() })
      .from(intakeItem)
      .where(inArray(intakeItem.standing, [...OPEN]))
      .groupBy(intakeItem.formId),
  ]);
  return forms.map(({ form, ...names }) => ({
    ...form,
    names,
    waits: waiting.find((one) => one.id === form.id)?.waits ?? 0,
  }));
}

/** A form by its key, if it takes anything; null where there is none, or it is closed. */
export async function openForm(db: Queryable, key: string): Promise<FormRow | null> {
  const [row] = await db
    .select()
    .from(requestForm)
    .where(and(eq(requestForm.key, key), eq(requestForm.on, true)));
  return row ?? null;
}

const nobody = z.literal("").transform(() => null);

/** A form as it is to be; one without an id is new. */
export const formInput = z.object({
  id: z.union([z.literal(""), z.uuid()]).default(""),
  revision: z.coerce.number().int().default(0),
  name: requestFormSchema.shape.name,
  about: requestFormSchema.shape.about,
  kindId: z.uuid("Choose a kind."),
  sectionId: z.uuid("Choose a section."),
  channel: z.union([nobody, z.string().max(20)]).default(null),
  holderId: z.union([nobody, z.uuid()]).default(null),
  lead: z.union([nobody, requestFormSchema.shape.lead]).default(null),
  promise: z.union([nobody, requestFormSchema.shape.promise]).default(null),
  openTo: z.enum(OPEN_TO),
  invited: z
    .string()
    .max(ANSWER_MOST)
    .default("")
    .transform((text) => [
      ...new Set(
        text
          .toLowerCase()
          .split(/[\s,;]+/)
          .filter(Boolean),
      ),
    ])
    .pipe(requestFormSchema.shape.invited),
  fields: fieldsInput,
  on: z.union([z.literal("yes").transform(() => true), z.boolean()]).default(false),
});

/** Makes a form, or changes one. What came by it before keeps the fields it came by. */
export function saveForm(act: Act, wanted: z.output<typeof formInput>): Promise<Result<{ key: string }>> {
  return administering(act, "publication.edit", async ({ tx, happened }) => {
    const { id, revision, ...form } = wanted;
    const known = await tx.select().from(requestForm).for("update");
    const before = known.find((one) => one.id === id);
    if (id && !before) return refuse({ code: "not-found", sentence: "There is no such form." });
    if (before && before.revision !== revision)
      return refuse({
        code: "stale",
        sentence: `${before.name} was changed meanwhile. Look at it as it is now; what you wrote is still here.`,
      });
    if (known.some((one) => one !== before && one.name.toLowerCase() === form.name.toLowerCase()))
      return refuse({ code: "taken", field: "name", sentence: "There is a form of that name." });
    const amiss = await whatIsAmiss(tx, form);
    if (amiss) return refuse(amiss);
    if (form.channel !== null && !(await tx.$count(channel, eq(channel.key, form.channel))))
      return refuse({ code: "unknown-channel", field: "channel", sentence: "There is no such channel." });
    const fields = readFields(form.fields, { of: "A form", least: 0, most: FIELDS_MOST });
    if (!fields.ok) return fields;
    const read = requestFormSchema.safeParse({ ...ofDocument(wanted), fields: fields.value });
    if (!read.success)
      return refuse({ code: "bad-fields", field: "fields", sentence: `${read.error.issues[0]?.message}.` });
    const key = before?.key ?? freeKey(form.name, known, "form");
    const row = { ...form, fields: fields.value, key };
    if (before)
      await tx
        .update(requestForm)
        .set({ ...row, revision: revision + 1 })
        .where(eq(requestForm.id, before.id));
    else await tx.insert(requestForm).values({ ...row, id: newId() });
    happened(formSaved, { ...read.data, key, on: form.on }, before ? { subjectId: before.id } : {});
    return accept({ key });
  });
}

const ofDocument = ({ name, about, lead, promise, openTo, invited }: z.output<typeof formInput>) => ({
  name,
  about,
  lead,
  promise,
  openTo,
  invited,
});
