import { redirect } from "react-router";
import { z } from "zod";
import { form, formKeyOf } from "#app/forms.ts";
import { guarded, notFound, requirePermission, requireViewer } from "#app/request.ts";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { open, PUBLICATION_ROOMS } from "#app/views/frame/places.ts";
import { Settings } from "#app/views/publication/settings.tsx";
import { readCalendarForm } from "#core/time/calendar-form.ts";
import {
  changePublication,
  previewCalendar,
  publicationInput,
  publicationSettings,
} from "#server/publication/commands.ts";
import type { Route } from "./+types/publication-settings.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  // Who may not see the first room is led to theirs.
  const [first] = open(PUBLICATION_ROOMS, viewer, viewer.now);
  if (first && first.to !== "/publication") throw redirect(first.to);
  await requirePermission(context, request, "publication.edit");
  return { settings: await publicationSettings(context.db), zones: Intl.supportedValuesOf("timeZone") };
}

/** The calendar as its form writes it: a zone, hours of each day, closed days, days with hours of their own. */
const calendar = z
  .object({
    zone: z.string().max(60),
    mon: z.string().max(200),
    tue: z.string().max(200),
    wed: z.string().max(200),
    thu: z.string().max(200),
    fri: z.string().max(200),
    sat: z.string().max(200),
    sun: z.string().max(200),
    closed: z.string().max(10_000),
    special: z.string().max(10_000),
  })
  .transform(({ zone, closed, special, ...week }, issue) => {
    const read = readCalendarForm({ zone, week, closed, special });
    if ("calendar" in read) return read.calendar;
    issue.addIssue({ code: "custom", path: [read.field], message: read.message });
    return z.NEVER;
  });
const named = publicationInput.omit({ calendar: true });
const input = z.looseObject({}).transform((sent, issue) => {
  const [rest, days] = [named.safeParse(sent), calendar.safeParse(sent)];
  for (const one of [...(rest.error?.issues ?? []), ...(days.error?.issues ?? [])])
    issue.addIssue({ code: "custom", path: one.path, message: one.message });
  return rest.success && days.success ? { ...rest.data, calendar: days.data } : z.NEVER;
});

export const action = guarded(async ({ context, request }: Route.ActionArgs) => {
  const viewer = await requirePermission(context, request, "publication.edit");
  const sent = await request.formData();
  const intent = String(sent.get("intent"));
  const act = context.act(viewer.id, formKeyOf(sent));
  if (intent !== "save") throw notFound();
  const looked = form(input, async (_, wanted) => ({
    ok: true as const,
    value: await previewCalendar(context.db, viewer, wanted.calendar),
  }));
  const shown = await looked.submit(intent, sent, act);
  if (!("value" in shown)) return shown;
  const shifts = shown.value as Shifts;
  // What would shift is shown before it is kept.
  const seen = !sent.has("only") && (shifts.length === 0 || Number(sent.get("seen")) === shifts.length);
  if (!seen) return { intent, refusal: null, fields: {}, shifts };
  const done = await form(input, changePublication).submit(intent, sent, act);
  return "value" in done
    ? { intent, refusal: null, fields: {}, shifted: (done.value as { shifted: number }).shifted }
    : done;
});

type Shifts = Awaited<ReturnType<typeof previewCalendar>>;

export const meta: Route.MetaFunction = () => [{ title: "Publication · Elenco" }];

export default function Publication({ loaderData, actionData }: Route.ComponentProps) {
  const answer = useLastAnswer(actionData) ?? null;
  return <Settings key={loaderData.settings.revision} {...loaderData} answer={answer} />;
}
