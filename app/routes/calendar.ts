import { notFound } from "#app/request.ts";
import { calendarFile } from "#server/people/calendar-given.ts";
import { channelCalendar } from "#server/release/calendar.ts";
import type { Route } from "./+types/calendar.ts";

/** Somebody's calendar file, or a channel's, for whoever has its address. */
export async function loader({ context, params }: Route.LoaderArgs) {
  const { db, baseUrl, now } = context;
  const secret = (params.file ?? "").replace(/\.ics$/, "");
  const file = (await calendarFile(db, secret, baseUrl, now)) ?? (await channelCalendar(db, secret, baseUrl, now));
  if (file === null) throw notFound();
  return new Response(file, {
    headers: {
      "Content-Type": "text/calendar; charset=utf-8",
      "Content-Disposition": 'attachment; filename="elenco.ics"',
    },
  });
}
