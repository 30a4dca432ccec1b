import type { Calendar } from "#core/time/calendar.ts";
import { loadHolder, type Person } from "./access/holders.ts";
import type { Queryable } from "./db/client.ts";
import { loadPlaces, type Places } from "./sections/places.ts";

/** Who looks, and at what time: the first argument of every read. */
export interface Viewer extends Person {
  places: Places;
  calendar: Calendar;
  /** The zone this person sees times in; what is computed goes by the calendar's. */
  zone: string;
  now: number;
  /** Who looks through this person's eyes; absent where they look themselves. */
  seenBy?: { id: string; name: string };
}

/** A person as a viewer; null when they do not exist or their access has ended. */
export async function loadViewer(db: Queryable, personId: string, now: number): Promise<Viewer | null> {
  const [person, places] = await Promise.all([loadHolder(db, personId), loadPlaces(db)]);
  if (!person?.active) return null;
  return { ...person, places, calendar: places.calendar, zone: person.ownZone ?? places.calendar.timeZone, now };
}
