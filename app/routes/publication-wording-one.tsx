import { form, formNamed, type PageForm } from "#app/forms.ts";
import { answered, guarded, notFound, requirePermission } from "#app/request.ts";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { WordingView } from "#app/views/publication/wording.tsx";
import {
  giveUpWording,
  keepWording,
  tryWording,
  whichWording,
  wordingInput,
  wordingPage,
  wordingTest,
} from "#server/notices/wording.ts";
import type { Viewer } from "#server/viewer.ts";
import type { Route } from "./+types/publication-wording-one.ts";

export async function loader({ context, request, params }: Route.LoaderArgs) {
  const viewer = await requirePermission(context, request, "publication.edit");
  const page = await wordingPage(context.db, viewer, params.event, params.part);
  if (!page) throw notFound();
  return page;
}

const formsOf = (viewer: Viewer): Record<string, PageForm> => ({
  keep: form(wordingInput, keepWording),
  ready: form(whichWording, giveUpWording),
  try: form(wordingTest, (act, wanted) => tryWording(act, viewer, wanted)),
});

export const action = guarded(async ({ context, request }: Route.ActionArgs) => {
  const viewer = await requirePermission(context, request, "publication.edit");
  const sent = await request.formData();
  const intent = String(sent.get("intent"));
  const done = await formNamed(formsOf(viewer), intent).submit(intent, sent, context.act(viewer.id));
  return "value" in done ? answered(intent) : done;
});

export const meta: Route.MetaFunction = () => [{ title: "Wording · Elenco" }];

export default function Wording({ loaderData, actionData }: Route.ComponentProps) {
  return <WordingView page={loaderData} answer={useLastAnswer(actionData) ?? null} />;
}
