import { form, formNamed, type PageForm } from "#app/forms.ts";
import { answered, guarded, requirePermission } from "#app/request.ts";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { AssistantView } from "#app/views/publication/assistant.tsx";
import { extentOf } from "#core/access/permissions.ts";
import { errandsSeen } from "#server/assist/queries.ts";
import {
  assistantInput,
  assistantSecret,
  loadAssistant,
  nameAssistant,
  standInAssistant,
} from "#server/assist/service.ts";
import { colleagues, sectionNames } from "#server/choices.ts";
import type { Route } from "./+types/publication-assistant.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requirePermission(context, request, "publication.edit");
  const [assistant, errands] = await Promise.all([loadAssistant(context.db), errandsSeen(context.db, viewer)]);
  return {
    assistant,
    errands,
    sections: sectionNames(viewer),
    // Who sees as somebody else does not learn their secrets.
    secret: viewer.seenBy ? null : assistantSecret(),
    standIn: context.standIns ? standInAssistant("") : null,
    asking: colleagues(viewer).filter(({ id }) =>
      viewer.roster.people.get(id)?.grants.some((one) => extentOf(one.permissions, "assistant.ask") !== "no"),
    ),
  };
}

const FORMS: Record<string, PageForm> = { name: form(assistantInput, nameAssistant) };

export const action = guarded(async ({ context, request }: Route.ActionArgs) => {
  const viewer = await requirePermission(context, request, "publication.edit");
  const sent = await request.formData();
  const intent = String(sent.get("intent"));
  const done = await formNamed(FORMS, intent).submit(intent, sent, context.act(viewer.id));
  return "value" in done ? answered(intent) : done;
});

export const meta: Route.MetaFunction = () => [{ title: "Assistant · Elenco" }];

export default function Assistant({ loaderData, actionData }: Route.ComponentProps) {
  return <AssistantView page={loaderData} answer={useLastAnswer(actionData) ?? null} />;
}
