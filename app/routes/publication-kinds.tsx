import { redirect } from "react-router";
import { z } from "zod";
import { form } from "#app/forms.ts";
import { answered, guarded, misread, notFound, readForm, requirePermission, runCommand } from "#app/request.ts";
import { KindsView } from "#app/views/publication/kinds.tsx";
import { addKind, deleteKind, listKinds, saveKind } from "#server/kinds/commands.ts";
import { fieldsInput } from "#server/kinds/fields.ts";
import { dropModel, dropModelInput, modelTexts } from "#server/pieces/origins.ts";
import type { Route } from "./+types/publication-kinds.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  await requirePermission(context, request, "section.edit");
  const [kinds, models] = await Promise.all([listKinds(context.db), modelTexts(context.db)]);
  return { kinds, models };
}

const name = z.string().trim().min(1, "A kind needs a name.").max(80, "At most 80 characters fit.");
const save = z.object({ key: z.string(), name, fields: fieldsInput, revision: z.coerce.number().int() });

export const action = guarded(async ({ context, request }: Route.ActionArgs) => {
  const viewer = await requirePermission(context, request, "section.edit");
  const sent = await request.formData();
  const intent = String(sent.get("intent"));
  const act = context.act(viewer.id);
  if (intent === "add") {
    const read = readForm(z.object({ name }), sent);
    if ("fields" in read) return misread(intent, read.fields);
    const done = await runCommand(intent, () => addKind(act, read.values.name));
    return "value" in done ? redirect(`/publication/kinds?kind=${done.value.key}`) : done;
  }
  if (intent === "delete") {
    const done = await runCommand(intent, () => deleteKind(act, String(sent.get("key"))));
    return "value" in done ? redirect("/publication/kinds") : done;
  }
  if (intent === "drop-model") {
    const done = await form(dropModelInput, dropModel).submit(intent, sent, act);
    return "value" in done ? answered(intent) : done;
  }
  if (intent !== "save") throw notFound();
  const read = readForm(save, sent);
  if ("fields" in read) return misread(intent, read.fields);
  const done = await runCommand(intent, () => saveKind(act, read.values));
  return "value" in done ? answered(intent) : done;
});

export const meta: Route.MetaFunction = () => [{ title: "Kinds · Elenco" }];

export default function Kinds(props: Route.ComponentProps) {
  return <KindsView {...props} />;
}
