import { form, formNamed, type PageForm } from "#app/forms.ts";
import { answered, guarded, requirePermission } from "#app/request.ts";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { MessagesView } from "#app/views/publication/messages.tsx";
import { standInChannel } from "#server/notices/chat.ts";
import { againInput, chooseDefaults, sendAgain, tellingInput, undelivered } from "#server/notices/choosing.ts";
import { channelGone, channelInput, channelsOf, nameChannel, removeChannel } from "#server/notices/naming.ts";
import type { Route } from "./+types/publication-telling.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requirePermission(context, request, "publication.edit");
  const [stuck, heard] = await Promise.all([undelivered(context.db, viewer), channelsOf(context.db, viewer.places)]);
  const standIn = context.standIns ? standInChannel(context.baseUrl) : null;
  return { telling: viewer.places.telling, stuck, ...heard, standIn };
}

const formsOf = (standIns: boolean): Record<string, PageForm> => ({
  telling: form(tellingInput, chooseDefaults),
  again: form(againInput, sendAgain),
  channel: form(channelInput, (act, wanted) => nameChannel(act, wanted, standIns)),
  "channel-gone": form(channelGone, removeChannel),
});

export const action = guarded(async ({ context, request }: Route.ActionArgs) => {
  const viewer = await requirePermission(context, request, "publication.edit");
  const sent = await request.formData();
  const intent = String(sent.get("intent"));
  const done = await formNamed(formsOf(context.standIns), intent).submit(intent, sent, context.act(viewer.id));
  return "value" in done ? answered(intent) : done;
});

export const meta: Route.MetaFunction = () => [{ title: "Messages · Elenco" }];

export default function Messages({ loaderData, actionData }: Route.ComponentProps) {
  return <MessagesView page={loaderData} answer={useLastAnswer(actionData) ?? null} />;
}
