import { redirect } from "react-router";
import { z } from "zod";
import { grantFields, grantOf } from "#app/grant-form.ts";
import { guarded, misread, readForm, requirePermission, runCommand } from "#app/request.ts";
import { PeopleView } from "#app/views/people/list.tsx";
import { invite } from "#server/people/accounts.ts";
import { grantChoices, listPeople } from "#server/people/queries.ts";
import type { Route } from "./+types/people-list.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requirePermission(context, request, "access.edit");
  const [people, choices] = await Promise.all([listPeople(context.db, viewer), grantChoices(context.db, viewer)]);
  return { people, choices };
}

export const action = guarded(async ({ context, request }: Route.ActionArgs) => {
  const viewer = await requirePermission(context, request, "access.edit");
  const form = z.object({
    name: z.string().trim().min(1, "Their name.").max(120, "At most 120 characters fit."),
    email: z.email("A mail address, as in noor@example.org.").max(200, "At most 200 characters fit."),
    ...grantFields(viewer.calendar.timeZone),
  });
  const read = readForm(form, await request.formData());
  if ("fields" in read) return misread("invite", read.fields);
  const { name, email, ...given } = read.values;
  const grant = given.roleKey ? await grantOf(context.db, viewer, given) : null;
  const done = await runCommand("invite", () => invite(context.act(viewer.id), { name, email, grant }));
  return "value" in done ? redirect(`/people/who/${done.value.key}`) : done;
});

export const meta: Route.MetaFunction = () => [{ title: "People · Elenco" }];

export default function PeopleList(props: Route.ComponentProps) {
  return <PeopleView {...props} />;
}
