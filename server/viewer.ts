import type { Calendar } from "#core/time/calendar.ts";
import { loadHolder, type Person } from "./access/holders.ts";
import type { Queryable } from "./db/client.ts";
import { type House, loadHouse } from "./house.ts";

/** Who looks, and at what time: the first argument of every read. */
export interface Viewer extends Person, House {
  calendar: Calendar;
  /** The zone this person sees times in; what is computed goes by the calendar's. */
  zone: string;
  now: number;
}

/**
 * A person as a viewer; null when they do not exist or their access has ended.
 *
 * @param known the house, where it was read already
 */
export async function loadViewer(
  db: Queryable,
  personId: string,
  now: number,
  known?: Promise<House>,
): Promise<Viewer | null> {
  const house = await (known ?? loadHouse(db));
  // Guests are on no roster.
  const person = house.roster.people.get(personId) ?? (await loadHolder(db, personId));
  if (!person?.active) return null;
  const { calendar } = house.places;
  return { ...person, ...house, calendar, zone: person.ownZone ?? calendar.timeZone, now };
}
