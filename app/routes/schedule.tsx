import { z } from "zod";
import { columnsOf, pack } from "#app/packed.ts";
import { guarded, notFound, requireViewer } from "#app/request.ts";
import { loaderAhead } from "#app/views/frame/ahead.ts";
import { BY, type ScheduleSent, WEEKS } from "#app/views/schedule/data.ts";
import { ScheduleView } from "#app/views/schedule/page.tsx";
import { dayAfter, localDate, mondayOf, startOf } from "#core/time/local.ts";
import { scheduleChoices } from "#server/schedule/choices.ts";
import { confirmAll, confirmationsInput, moveAll, movesInput } from "#server/schedule/moving.ts";
import { besideTimetable, rowsOf, timetable } from "#server/schedule/timetable.ts";
import type { Route } from "./+types/schedule.ts";

const day = z.iso.date();

/** The words of the address; what is none of them is as if it were not there. */
function wantedIn(words: URLSearchParams, today: string) {
  const weeks = WEEKS.find((one) => String(one) === words.get("weeks")) ?? 6;
  const chosen = day.safeParse(words.get("day")).data ?? null;
  const asked = day.safeParse(words.get("from")).data ?? mondayOf(today);
  const first = mondayOf(asked);
  const inside = chosen !== null && chosen >= first && chosen < dayAfter(first, weeks * 7);
  const from = chosen !== null && !inside ? mondayOf(chosen) : first;
  const at = chosen ?? (today >= from && today < dayAfter(from, weeks * 7) ? today : from);
  return {
    from,
    weeks,
    by: BY.find((one) => one === words.get("by")) ?? ("section" as const),
    /** One chosen day, or the seven days from today on. */
    listFrom: at,
    listUntil: dayAfter(at, chosen === null ? 7 : 1),
  };
}

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const words = new URL(request.url).searchParams;
  const wanted = wantedIn(words, localDate(viewer.now, viewer.zone));
  const narrowed = {
    section: words.get("section")?.slice(0, 60) || undefined,
    kind: words.get("kind")?.slice(0, 60) || undefined,
  };
  const span = {
    from: startOf(wanted.from, viewer.zone),
    until: startOf(dayAfter(wanted.from, wanted.weeks * 7), viewer.zone),
  };
  const [shown, beside, choices] = await Promise.all([
    timetable(context.db, viewer, { ...span, ...narrowed }),
    besideTimetable(context.db, viewer, narrowed),
    scheduleChoices(context.db, viewer),
  ]);
  const [first, last] = [startOf(wanted.listFrom, viewer.zone), startOf(wanted.listUntil, viewer.zone)];
  const listed = shown.marks.filter(({ at }) => first <= at && at < last);
  const rows = await rowsOf(context.db, viewer, listed);
  const page: ScheduleSent = { ...shown, marks: columnsOf(shown.marks), beside, rows, ...choices, wanted };
  return { packed: pack(page) };
}

const sent = (input: z.ZodType<unknown>, text: FormDataEntryValue | null) => {
  try {
    return input.safeParse(JSON.parse(String(text)));
  } catch {
    return input.safeParse(null);
  }
};

/** Moves several at once, or confirms several; each is answered for. */
export const action = guarded(async ({ context, request }: Route.ActionArgs) => {
  const viewer = await requireViewer(context, request);
  const form = await request.formData();
  const intent = String(form.get("intent"));
  const act = context.act(viewer.id);
  if (intent === "move") {
    const moves = sent(movesInput, form.get("what"));
    if (moves.success) return { intent, done: await moveAll(act, movesInput.parse(moves.data)) };
  }
  if (intent === "confirm") {
    const orders = sent(confirmationsInput, form.get("what"));
    if (orders.success) return { intent, done: await confirmAll(act, confirmationsInput.parse(orders.data)) };
  }
  throw notFound();
});

export const clientLoader = loaderAhead<Awaited<ReturnType<typeof loader>>>();

export const meta: Route.MetaFunction = () => [{ title: "Schedule · Elenco" }];

export default function Schedule({ loaderData }: Route.ComponentProps) {
  return <ScheduleView packed={loaderData.packed} />;
}
