import { redirect } from "react-router";
import { channelForm } from "#app/channel-form.ts";
import { form, named, type PageForm } from "#app/forms.ts";
import { answered, guarded, notFound, requirePermission } from "#app/request.ts";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { ChannelsView } from "#app/views/publication/channels.tsx";
import { SITE } from "#core/release/channel.ts";
import {
  channelCalendarAddress,
  giveChannelCalendar,
  ofChannel,
  takeChannelCalendar,
} from "#server/release/calendar.ts";
import { retireChannel, retireInput, saveChannel, wouldMove } from "#server/release/channel-changes.ts";
import { blankChannel, loadChannels, nextNumberOf } from "#server/release/channels.ts";
import { scheduleChoices, subjectFields } from "#server/schedule/choices.ts";
import type { Route } from "./+types/publication-channels.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requirePermission(context, request, "publication.edit");
  const key = new URL(request.url).searchParams.get("channel") ?? SITE;
  const channels = await loadChannels(context.db);
  // An address without a name is for a new one.
  const chosen = key === "" ? blankChannel(viewer.calendar.timeZone) : channels.find((one) => one.key === key);
  if (!chosen) throw notFound();
  const [choices, fields, calendar, nextNumber] = await Promise.all([
    scheduleChoices(context.db, viewer),
    subjectFields(context.db),
    // Who sees as somebody else does not learn their secrets.
    viewer.seenBy ? null : channelCalendarAddress(context.db, key, context.baseUrl),
    nextNumberOf(context.db, key),
  ]);
  const list = channels.map((one) => ({ key: one.key, name: one.name }));
  return { channels: list, chosen, ...choices, fields, calendar, nextNumber };
}

export const action = guarded(async ({ context, request }: Route.ActionArgs) => {
  const viewer = await requirePermission(context, request, "publication.edit");
  const sent = await request.formData();
  const intent = String(sent.get("intent"));
  const act = context.act(viewer.id);
  const simple = named(SIMPLE, intent);
  if (simple) {
    const done = await simple.submit(intent, sent, act);
    if (!("value" in done)) return done;
    return simple.leaves ? redirect("/publication/channels") : answered(intent);
  }
  if (intent !== "look" && intent !== "save") throw notFound();
  const input = channelForm(viewer.calendar.timeZone);
  const looked = await form(input, (_, wanted) => wouldMove(context.db, viewer, wanted)).submit(intent, sent, act);
  if (!("value" in looked)) return looked;
  const moves = looked.value as Moves;
  // What would move is shown before it is kept.
  const seen = intent === "save" && (moves.length === 0 || Number(sent.get("seen")) === moves.length);
  if (!seen) return { intent: "look", refusal: null, fields: {}, moves };
  const done = await form(input, saveChannel).submit(intent, sent, act);
  if (!("value" in done)) return done;
  const { key, moved } = done.value as { key: string; moved: number };
  if (sent.get("key") === "") return redirect(`/publication/channels?channel=${key}`);
  return { intent, refusal: null, fields: {}, moved };
});

const SIMPLE: Record<string, PageForm> = {
  "give-calendar": form(ofChannel, giveChannelCalendar),
  "take-calendar": form(ofChannel, takeChannelCalendar),
  retire: form(retireInput, retireChannel, true),
};

type Moves = { slug: string; title: string; at: number; to: number | null }[];

export const meta: Route.MetaFunction = () => [{ title: "Channels · Elenco" }];

export default function Channels({ loaderData, actionData }: Route.ComponentProps) {
  return <ChannelsView page={loaderData} answer={useLastAnswer(actionData) ?? null} />;
}
