import { redirect } from "react-router";
import { form, formNamed, type PageForm } from "#app/forms.ts";
import { answered, guarded, notFound, requirePermission } from "#app/request.ts";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { TakingInView } from "#app/views/publication/taking-in.tsx";
import { colleagues, kindNames, sectionNames } from "#server/choices.ts";
import { dropFeed, feedInput, listFeeds, lookNow, nameFeed, ofFeed, standInFeed } from "#server/intake/feeds.ts";
import { formInput, listForms, saveForm } from "#server/intake/forms.ts";
import { agreeInput, agreeOn } from "#server/intake/ideas.ts";
import { loadChannels } from "#server/release/channels.ts";
import type { Route } from "./+types/publication-intake.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requirePermission(context, request, "publication.edit");
  const [forms, channels, feeds] = await Promise.all([
    listForms(context.db),
    loadChannels(context.db),
    listFeeds(context.db),
  ]);
  const key = new URL(request.url).searchParams.get("form");
  const chosen = forms.find((one) => one.key === key) ?? null;
  // An address without a name is for a new one.
  if (key && !chosen) throw notFound();
  return {
    forms,
    feeds,
    mailIn: context.mailIn,
    standIn: context.standIns ? standInFeed("") : null,
    chosen,
    isNew: key === "",
    agreed: viewer.places.intake,
    baseUrl: context.baseUrl,
    choices: {
      kinds: kindNames(viewer),
      sections: sectionNames(viewer),
      channels: channels
        .filter((one) => one.editions !== null)
        .map(({ key: channel, name }) => ({ id: channel, name })),
      people: colleagues(viewer),
    },
  };
}

const FORMS: Record<string, PageForm> = {
  agree: form(agreeInput, agreeOn),
  "name-feed": form(feedInput, nameFeed),
  "drop-feed": form(ofFeed, dropFeed),
  "look-now": form(ofFeed, lookNow),
};

export const action = guarded(async ({ context, request }: Route.ActionArgs) => {
  const viewer = await requirePermission(context, request, "publication.edit");
  const sent = await request.formData();
  const intent = String(sent.get("intent"));
  const act = context.act(viewer.id);
  if (intent !== "save") {
    const done = await formNamed(FORMS, intent).submit(intent, sent, act);
    return "value" in done ? answered(intent) : done;
  }
  const done = await form(formInput, saveForm).submit(intent, sent, act);
  if (!("value" in done)) return done;
  const { key } = done.value as { key: string };
  return sent.get("id") ? answered(intent) : redirect(`/publication/intake?form=${key}`);
});

export const meta: Route.MetaFunction = () => [{ title: "Taking in · Elenco" }];

export default function TakingIn({ loaderData, actionData }: Route.ComponentProps) {
  return <TakingInView page={loaderData} answer={useLastAnswer(actionData) ?? null} />;
}
