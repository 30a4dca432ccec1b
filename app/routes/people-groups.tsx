import { redirect } from "react-router";
import { z } from "zod";
import { granting } from "#app/grant-form.ts";
import { answered, guarded, misread, notFound, readForm, requirePermission, runCommand } from "#app/request.ts";
import { GroupsView } from "#app/views/people/groups.tsx";
import { addGroup, deleteGroup, groupGrants, listGroups, setMembers } from "#server/people/groups.ts";
import { choosable, grantChoices } from "#server/people/queries.ts";
import type { Route } from "./+types/people-groups.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requirePermission(context, request, "access.edit");
  const groups = await listGroups(context.db);
  const chosen = groups.find((one) => one.key === new URL(request.url).searchParams.get("group")) ?? null;
  const [choices, people, holds] = await Promise.all([
    grantChoices(context.db, viewer),
    choosable(context.db, viewer),
    chosen ? groupGrants(context.db, viewer, chosen.id) : [],
  ]);
  return { groups, chosen, choices, people, holds };
}

export const action = guarded(async ({ context, request }: Route.ActionArgs) => {
  const viewer = await requirePermission(context, request, "access.edit");
  const form = await request.formData();
  const intent = String(form.get("intent"));
  const act = context.act(viewer.id);
  if (intent === "add") {
    const read = readForm(
      z.object({ name: z.string().trim().min(1, "A group needs a name.").max(80, "At most 80 characters fit.") }),
      form,
    );
    if ("fields" in read) return misread(intent, read.fields);
    const done = await runCommand(intent, () => addGroup(act, read.values.name));
    return "value" in done ? redirect(`/people/groups?group=${done.value.key}`) : done;
  }
  const group = z.uuid().safeParse(form.get("groupId"));
  if (!group.success) throw notFound();
  const groupId = group.data;
  if (intent === "members") {
    const read = readForm(z.object({ members: z.array(z.uuid()).default([]) }), form);
    if ("fields" in read) return misread(intent, read.fields);
    const done = await runCommand(intent, () => setMembers(act, { groupId, members: read.values.members }));
    return "value" in done ? answered(intent) : done;
  }
  const given = await granting(intent, form, act, viewer, { groupId });
  if (given) return given;
  if (intent !== "delete") throw notFound();
  const done = await runCommand(intent, () => deleteGroup(act, groupId));
  return "value" in done ? redirect("/people/groups") : done;
});

export const meta: Route.MetaFunction = () => [{ title: "Groups · Elenco" }];

export default function Groups(props: Route.ComponentProps) {
  return <GroupsView {...props} />;
}
