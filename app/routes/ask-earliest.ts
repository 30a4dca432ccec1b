import { askedIn, readerIn } from "#app/asker.ts";
import { notFound } from "#app/request.ts";
import { sayEarliest } from "#core/intake/earliest.ts";
import { earliestBy } from "#server/intake/ahead.ts";
import { openForm } from "#server/intake/forms.ts";
import { loadPlaces } from "#server/sections/places.ts";
import type { Route } from "./+types/ask-earliest.ts";

/** Whether a date can be met, while it is written. */
export async function loader({ context: { db, now }, params, request }: Route.LoaderArgs) {
  const [form, places] = await Promise.all([openForm(db, params.form), loadPlaces(db)]);
  if (!form) throw notFound();
  const wished = new URL(request.url).searchParams.get("wished") ?? "";
  const { wishedAt, isNoDate } = askedIn({ wishedAt: wished }, [], readerIn(places, now));
  if (isNoDate) return Response.json({ says: "" });
  const soonest = await earliestBy(db, places, form, wishedAt, now);
  return Response.json({ says: soonest ? sayEarliest(soonest, places.calendar.timeZone, now) : "" });
}
