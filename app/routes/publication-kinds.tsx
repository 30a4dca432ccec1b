import { redirect } from "react-router";
import { z } from "zod";
import { answered, guarded, misread, notFound, readForm, requirePermission, runCommand } from "#app/request.ts";
import { KindsView } from "#app/views/publication/kinds.tsx";
import { FIELD_TYPES } from "#core/text/fields.ts";
import { addKind, deleteKind, listKinds, saveKind } from "#server/kinds/commands.ts";
import type { Route } from "./+types/publication-kinds.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  await requirePermission(context, request, "section.edit");
  return { kinds: await listKinds(context.db) };
}

const name = z.string().trim().min(1, "A kind needs a name.").max(80, "At most 80 characters fit.");
const number = z.union([z.literal("").transform(() => undefined), z.coerce.number()]).optional();
const fields = z
  .string()
  .transform((text, issue) => {
    try {
      return JSON.parse(text) as unknown;
    } catch {
      issue.addIssue({ code: "custom", message: "The fields did not arrive whole." });
      return z.NEVER;
    }
  })
  .pipe(
    z.array(
      z.object({
        key: z.string().max(80),
        name: z.string().trim(),
        type: z.enum(FIELD_TYPES),
        guidance: z
          .string()
          .trim()
          .transform((text) => text || undefined)
          .optional(),
        required: z.boolean(),
        free: z.boolean().optional(),
        minWords: number,
        maxWords: number,
        maxCharacters: number,
        least: number,
        most: number,
        unit: z.string().trim().optional(),
        options: z
          .array(z.string())
          .transform((all) => all.map((one) => one.trim()).filter((one) => one !== ""))
          .optional(),
      }),
      "The fields did not arrive whole.",
    ),
  );
const save = z.object({ key: z.string(), name, fields, revision: z.coerce.number().int() });

export const action = guarded(async ({ context, request }: Route.ActionArgs) => {
  const viewer = await requirePermission(context, request, "section.edit");
  const form = await request.formData();
  const intent = String(form.get("intent"));
  const act = context.act(viewer.id);
  if (intent === "add") {
    const read = readForm(z.object({ name }), form);
    if ("fields" in read) return misread(intent, read.fields);
    const done = await runCommand(intent, () => addKind(act, read.values.name));
    return "value" in done ? redirect(`/publication/kinds?kind=${done.value.key}`) : done;
  }
  if (intent === "delete") {
    const done = await runCommand(intent, () => deleteKind(act, String(form.get("key"))));
    return "value" in done ? redirect("/publication/kinds") : done;
  }
  if (intent !== "save") throw notFound();
  const read = readForm(save, form);
  if ("fields" in read) return misread(intent, read.fields);
  const done = await runCommand(intent, () => saveKind(act, read.values as Parameters<typeof saveKind>[1]));
  return "value" in done ? answered(intent) : done;
});

export const meta: Route.MetaFunction = () => [{ title: "Kinds · Elenco" }];

export default function Kinds(props: Route.ComponentProps) {
  return <KindsView {...props} />;
}
