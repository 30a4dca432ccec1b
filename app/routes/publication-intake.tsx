import { redirect } from "react-router";
import { form } from "#app/forms.ts";
import { answered, guarded, notFound, requirePermission } from "#app/request.ts";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { TakingInView } from "#app/views/publication/taking-in.tsx";
import { pathName } from "#core/sections/tree.ts";
import { formInput, listForms, saveForm } from "#server/intake/forms.ts";
import { agreeInput, agreeOn } from "#server/intake/ideas.ts";
import { loadChannels } from "#server/release/channels.ts";
import type { Route } from "./+types/publication-intake.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requirePermission(context, request, "publication.edit");
  const [forms, channels] = await Promise.all([listForms(context.db), loadChannels(context.db)]);
  const key = new URL(request.url).searchParams.get("form");
  const chosen = forms.find((one) => one.key === key) ?? null;
  // An address without a name is for a new one.
  if (key && !chosen) throw notFound();
  const byName = (a: { name: string }, b: { name: string }) => a.name.localeCompare(b.name);
  return {
    forms,
    chosen,
    isNew: key === "",
    agreed: viewer.places.intake,
    baseUrl: context.baseUrl,
    choices: {
      kinds: viewer.kinds.map(({ id, name }) => ({ id, name })).sort(byName),
      sections: [...viewer.places.sections.values()]
        .map(({ id }) => ({ id, name: pathName(viewer.places, id) }))
        .sort(byName),
      channels: channels
        .filter((one) => one.editions !== null)
        .map(({ key: channel, name }) => ({ id: channel, name })),
      people: [...viewer.roster.people.values()]
        .filter((one) => one.active && !one.guest && one.grants.length > 0)
        .map(({ id, name }) => ({ id, name }))
        .sort(byName),
    },
  };
}

export const action = guarded(async ({ context, request }: Route.ActionArgs) => {
  const viewer = await requirePermission(context, request, "publication.edit");
  const sent = await request.formData();
  const intent = String(sent.get("intent"));
  const act = context.act(viewer.id);
  if (intent === "agree") {
    const done = await form(agreeInput, agreeOn).submit(intent, sent, act);
    return "value" in done ? answered(intent) : done;
  }
  if (intent !== "save") throw notFound();
  const done = await form(formInput, saveForm).submit(intent, sent, act);
  if (!("value" in done)) return done;
  const { key } = done.value as { key: string };
  return sent.get("id") ? answered(intent) : redirect(`/publication/intake?form=${key}`);
});

export const meta: Route.MetaFunction = () => [{ title: "Taking in · Elenco" }];

export default function TakingIn({ loaderData, actionData }: Route.ComponentProps) {
  return <TakingInView page={loaderData} answer={useLastAnswer(actionData) ?? null} />;
}
