import { createContext, type ReactNode, useContext } from "react";
import type { Calendar } from "#core/time/calendar.ts";
import { sayDate, sayDue, sayExactly, sayInstant } from "#core/time/words.ts";

/** The time a page was made and the zone it speaks in. */
export interface Clock {
  now: number;
  zone: string;
  /** The publication's zone, where its reader sees times in another. */
  publicationZone?: string;
}

const ClockContext = createContext<Clock | null>(null);
const CalendarContext = createContext<Calendar | null>(null);

/**
 * Gives the pages in it their clock, and in the workshop the working calendar. What says a date hears
 * of these two alone: it is not drawn anew with every step of the router.
 */
export function ClockOf({
  clock,
  calendar = null,
  children,
}: {
  clock: Clock;
  calendar?: Calendar | null;
  children: ReactNode;
}) {
  return (
    <ClockContext value={clock}>
      <CalendarContext value={calendar}>{children}</CalendarContext>
    </ClockContext>
  );
}

/** The clock of the page in view: the workshop's, the reader site's, or a requester's. */
export function useClock(): Clock {
  const clock = useContext(ClockContext);
  if (!clock) throw new Error("this page has no clock");
  return clock;
}

/** The publication's working calendar. */
export function useCalendar(): Calendar {
  const calendar = useContext(CalendarContext);
  if (!calendar) throw new Error("this page has no calendar");
  return calendar;
}

/** An instant as a person says it, exact on hover. */
export function When({ at, dateOnly = false }: { at: number; dateOnly?: boolean }) {
  const { zone, now, publicationZone } = useClock();
  const there = publicationZone && publicationZone !== zone ? ` (${sayExactly(at, publicationZone)})` : "";
  return (
    <time dateTime={new Date(at).toISOString()} title={sayExactly(at, zone) + there}>
      {dateOnly ? sayDate(at, zone, now) : sayInstant(at, zone, now)}
    </time>
  );
}

/** How far a due date is, with the date below; red when it has passed. */
export function Due({ at }: { at: number | null }) {
  const { now } = useClock();
  if (at === null) return <span className="text-13 text-rail">no due date</span>;
  const late = at < now;
  return (
    <span className={`block whitespace-nowrap text-13 ${late ? "text-red" : ""}`}>
      <b className="block font-semibold">{sayDue(at, now)}</b>
      <span className={late ? "" : "text-rail"}>
        due <When at={at} />
      </span>
    </span>
  );
}
