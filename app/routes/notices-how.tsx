import { z } from "zod";
import { form, formNamed, type PageForm } from "#app/forms.ts";
import { answered, guarded, requireViewer } from "#app/request.ts";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { HowView } from "#app/views/lists/telling.tsx";
import { standInChannel } from "#server/notices/chat.ts";
import { chooseTelling, tellingInput, tellingOf } from "#server/notices/choosing.ts";
import { calendarAddress, giveCalendar, takeCalendar } from "#server/people/calendar-given.ts";
import type { Route } from "./+types/notices-how.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const [telling, calendar] = await Promise.all([
    tellingOf(context.db, viewer),
    // Who sees as somebody else does not learn their secrets.
    viewer.seenBy ? null : calendarAddress(context.db, viewer, context.baseUrl),
  ]);
  return { telling, calendar, standIn: context.standIns ? standInChannel(context.baseUrl) : null };
}

const nothing = z.object({});
const formsOf = (standIns: boolean): Record<string, PageForm> => ({
  telling: form(tellingInput, (act, wanted) => chooseTelling(act, wanted, standIns)),
  "give-calendar": form(nothing, giveCalendar),
  "take-calendar": form(nothing, takeCalendar),
});

export const action = guarded(async ({ context, request }: Route.ActionArgs) => {
  const viewer = await requireViewer(context, request);
  const sent = await request.formData();
  const intent = String(sent.get("intent"));
  const done = await formNamed(formsOf(context.standIns), intent).submit(intent, sent, context.act(viewer.id));
  return "value" in done ? answered(intent) : done;
});

export const meta: Route.MetaFunction = () => [{ title: "How you are told · Elenco" }];

export default function How({ loaderData, actionData }: Route.ComponentProps) {
  return <HowView page={loaderData} answer={useLastAnswer(actionData) ?? null} />;
}
