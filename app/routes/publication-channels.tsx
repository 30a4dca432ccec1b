import { z } from "zod";
import { form, named, type PageForm } from "#app/forms.ts";
import { answered, guarded, notFound, requirePermission } from "#app/request.ts";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { ChannelsView } from "#app/views/publication/channels.tsx";
import { lookoutSchema } from "#core/release/findings.ts";
import { readWindowsForm } from "#core/release/window-form.ts";
import { scheduleChoices, subjectFields } from "#server/pieces/timetable-choices.ts";
import { channelCalendarAddress, giveChannelCalendar, takeChannelCalendar } from "#server/release/calendar.ts";
import { channelInput, loadChannel, SITE, saveChannel, wouldMove } from "#server/release/channels.ts";
import type { Route } from "./+types/publication-channels.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requirePermission(context, request, "publication.edit");
  const [site, { kinds, sections }, fields, calendar] = await Promise.all([
    loadChannel(context.db, SITE),
    scheduleChoices(context.db, viewer),
    subjectFields(context.db),
    // Who sees as somebody else does not learn their secrets.
    viewer.seenBy ? null : channelCalendarAddress(context.db, context.baseUrl),
  ]);
  return { site, kinds, sections, fields, calendar };
}

const hours = z.string().max(200).default("");
const number = z
  .string()
  .max(6)
  .default("")
  .transform((text) => (text.trim() === "" ? null : Number(text)));
const texts = z.object({
  name: channelInput.shape.name,
  revision: z.coerce.number().int(),
  mon: hours,
  tue: hours,
  wed: hours,
  thu: hours,
  fri: hours,
  sat: hours,
  sun: hours,
  closed: z.string().max(20_000).default(""),
  blackouts: z.string().max(20_000).default(""),
  spacing: z.string().max(6).default(""),
  perDay: number,
  apart: number,
  subject: z.string().max(60).default(""),
  rhythmOf: z.array(z.string().max(60)).max(50).default([]),
  rhythmDays: z.array(z.string().max(4)).max(50).default([]),
});

/** A channel as its form writes it, in a zone: what of it is not understood is said at its field. */
const channelForm = (zone: string) =>
  texts.transform((sent, issue) => {
    const { name, revision, closed, blackouts, spacing, perDay, apart, subject, rhythmOf, rhythmDays, ...week } = sent;
    const read = readWindowsForm({ week, closed, blackouts, spacing }, zone);
    if ("field" in read) issue.addIssue({ code: "custom", path: [read.field], message: read.message });
    const rhythms = rhythmOf.flatMap((of, i) => {
      const [what = "", id = ""] = of.split(" ");
      return what === "" ? [] : [{ of: what, id, days: Number(rhythmDays[i]) }];
    });
    const lookout = lookoutSchema.safeParse({ perDay, apart, subject: subject || null, rhythms });
    for (const one of lookout.error?.issues ?? [])
      issue.addIssue({ code: "custom", path: [String(one.path[0])], message: "Write a whole number, one at least." });
    if ("field" in read || !lookout.success) return z.NEVER;
    return { key: SITE as typeof SITE, name, revision, windows: read.windows, lookout: lookout.data };
  });

export const action = guarded(async ({ context, request }: Route.ActionArgs) => {
  const viewer = await requirePermission(context, request, "publication.edit");
  const sent = await request.formData();
  const intent = String(sent.get("intent"));
  const act = context.act(viewer.id);
  const calendar = named(CALENDAR, intent);
  if (calendar) {
    const done = await calendar.submit(intent, sent, act);
    return "value" in done ? answered(intent) : done;
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
  return "value" in done ? { intent, refusal: null, fields: {}, moved: (done.value as { moved: number }).moved } : done;
});

const CALENDAR: Record<string, PageForm> = {
  "give-calendar": form(z.object({}), giveChannelCalendar),
  "take-calendar": form(z.object({}), takeChannelCalendar),
};

type Moves = { slug: string; title: string; at: number; to: number | null }[];

export const meta: Route.MetaFunction = () => [{ title: "Channels · Elenco" }];

export default function Channels({ loaderData, actionData }: Route.ComponentProps) {
  return <ChannelsView page={loaderData} answer={useLastAnswer(actionData) ?? null} />;
}
