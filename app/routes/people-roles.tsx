import { redirect } from "react-router";
import { z } from "zod";
import { guarded, misread, readForm, requirePermission, runCommand } from "#app/request.ts";
import { RolesView } from "#app/views/people/roles.tsx";
import { PERMISSIONS, type Permission } from "#core/access/permissions.ts";
import { whoHas } from "#server/people/queries.ts";
import { addRole, deleteRole, listRoles, saveRole } from "#server/people/roles.ts";
import type { Route } from "./+types/people-roles.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requirePermission(context, request, "access.edit");
  const asked = new URL(request.url).searchParams.get("permission") ?? "";
  const permission = Object.hasOwn(PERMISSIONS, asked) ? (asked as Permission) : null;
  const [roles, having] = await Promise.all([
    listRoles(context.db, viewer.now),
    permission ? whoHas(context.db, viewer, permission) : [],
  ]);
  return { roles, permission, having };
}

const name = z.string().trim().min(1, "A role needs a name.").max(80, "At most 80 characters fit.");
const save = z.object({
  key: z.string(),
  name,
  permissions: z.array(z.string()).default([]),
  secondFactor: z.stringbool().default(false),
  revision: z.coerce.number().int(),
});
const add = z.object({ name, from: z.string().transform((key) => key || null) });

export const action = guarded(async ({ context, request }: Route.ActionArgs) => {
  const viewer = await requirePermission(context, request, "access.edit");
  const form = await request.formData();
  const intent = String(form.get("intent"));
  const act = context.act(viewer.id);
  if (intent === "add") {
    const read = readForm(add, form);
    if ("fields" in read) return misread(intent, read.fields);
    const done = await runCommand(intent, () => addRole(act, read.values));
    return "value" in done ? redirect(`/people/roles?role=${done.value.key}`) : done;
  }
  if (intent === "delete") {
    const done = await runCommand(intent, () => deleteRole(act, String(form.get("key"))));
    return "value" in done ? redirect("/people/roles") : done;
  }
  const read = readForm(save, form);
  if ("fields" in read) return misread("save", read.fields);
  const done = await runCommand("save", () => saveRole(act, read.values));
  return "value" in done ? redirect("/people/roles") : done;
});

export const meta: Route.MetaFunction = () => [{ title: "Roles · Elenco" }];

export default function Roles(props: Route.ComponentProps) {
  return <RolesView {...props} />;
}
