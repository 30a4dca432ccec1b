import { redirect, useSearchParams } from "react-router";
import { z } from "zod";
import { guarded, misread, readForm, requirePermission, runCommand } from "#app/request.ts";
import { ButtonLink } from "#app/ui/button.tsx";
import { Split } from "#app/ui/page.tsx";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { Matrix } from "#app/views/people/matrix.tsx";
import { NewRole } from "#app/views/people/new-role.tsx";
import { useRoleDraft } from "#app/views/people/role-draft.ts";
import { RolePanel } from "#app/views/people/role-panel.tsx";
import { WhoHas } from "#app/views/people/who-has.tsx";
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

export default function Roles({ loaderData, actionData: answer }: Route.ComponentProps) {
  const actionData = useLastAnswer(answer);
  const { roles, permission, having } = loaderData;
  const [words] = useSearchParams();
  const chosen = roles.find((one) => one.key === words.get("role")) ?? null;
  const other = roles.find((one) => one.key === words.get("with")) ?? null;
  const draft = useRoleDraft(chosen);
  const making = words.get("do") === "new";
  const beside = chosen ? (
    <RolePanel key={chosen.key} role={chosen} roles={roles} other={other} draft={draft} answer={actionData ?? null} />
  ) : permission ? (
    <WhoHas permission={permission} having={having} />
  ) : making ? (
    <NewRole roles={roles} answer={actionData ?? null} />
  ) : null;
  return (
    <Split beside={beside}>
      <div className="mb-3 flex flex-wrap items-center gap-3">
        <h1 className="mr-auto">What each role allows</h1>
        <ButtonLink to="?do=new">New role</ButtonLink>
      </div>
      <Matrix roles={roles} chosen={chosen} other={other} draft={draft} permission={permission} />
    </Split>
  );
}
