import ical, { ICalCalendarMethod } from "ical-generator";

/** How long a date stands in a calendar, in milliseconds: long enough to be seen. */
const SPAN = 15 * 60_000;

/** A date as a calendar file holds it: what it is known by, when, in which words, and where that is found. */
export interface Dated {
  id: string;
  /** Epoch milliseconds. */
  at: number;
  summary: string;
  /** The address of what it is about, without the part every address begins with. */
  path: string;
}

/** Dates as iCalendar (RFC 5545), each with a link. */
export function calendarText(name: string, dates: readonly Dated[], baseUrl: string, now: number): string {
  const file = ical({
    name,
    method: ICalCalendarMethod.PUBLISH,
    prodId: { company: "Elenco", product: "Elenco", language: "EN" },
    ttl: 3_600,
  });
  for (const { id, at, summary, path } of dates)
    file.createEvent({
      id: `${id}@elenco`,
      stamp: new Date(now),
      start: new Date(at),
      end: new Date(at + SPAN),
      summary,
      url: `${baseUrl}${path}`,
    });
  return file.toString();
}

/** The address of a calendar file. @param secret whoever knows it may read it */
export const calendarAt = (baseUrl: string, secret: string) => `${baseUrl}/calendar/${secret}.ics`;
