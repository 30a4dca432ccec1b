import { redirect } from "react-router";
import { z } from "zod";
import { answered, guarded, misread, notFound, readForm, requirePermission, runCommand } from "#app/request.ts";
import { KindsView } from "#app/views/publication/kinds.tsx";
import { addKind, deleteKind, listKinds, saveKind } from "#server/kinds/commands.ts";
import { fieldsInput } from "#server/kinds/fields.ts";
import type { Route } from "./+types/publication-kinds.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  await requirePermission(context, request, "section.edit");
  return { kinds: await listKinds(context.db) };
}

const name = z.string().trim().min(1, "A kind needs a name.").max(80, "At most 80 characters fit.");
const save = z.object({ key: z.string(), name, fields: fieldsInput, revision: z.coerce.number().int() });

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
  const done = await runCommand(intent, () => saveKind(act, read.values));
  return "value" in done ? answered(intent) : done;
});

export const meta: Route.MetaFunction = () => [{ title: "Kinds · Elenco" }];

export default function Kinds(props: Route.ComponentProps) {
  return <KindsView {...props} />;
}
