import { redirect } from "react-router";
import { form, formNamed, someMoment } from "#app/forms.ts";
import { guarded, requireViewer } from "#app/request.ts";
import { EditionsView } from "#app/views/editions/list.tsx";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { can, PUBLICATION } from "#core/access/decide.ts";
import { makeEdition, makeInput } from "#server/editions/commands.ts";
import { editionsList } from "#server/editions/queries.ts";
import type { Route } from "./+types/editions.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const mayMake = can(viewer, "publication.edit", PUBLICATION, viewer.now).allowed;
  return { channels: await editionsList(context.db, viewer), mayMake };
}

export const action = guarded(async ({ context, request }: Route.ActionArgs) => {
  const viewer = await requireViewer(context, request);
  const sent = await request.formData();
  const intent = String(sent.get("intent"));
  const forms = { make: form(makeInput.extend({ at: someMoment(viewer.zone) }), makeEdition, true) };
  const done = await formNamed(forms, intent).submit(intent, sent, context.act(viewer.id));
  if (!("value" in done)) return done;
  const { channel, number } = done.value as { channel: string; number: number };
  return redirect(`/editions/${channel}/${number}`);
});

export const meta: Route.MetaFunction = () => [{ title: "Editions · Elenco" }];

export default function Editions({ loaderData, actionData }: Route.ComponentProps) {
  return <EditionsView {...loaderData} answer={useLastAnswer(actionData) ?? null} />;
}
