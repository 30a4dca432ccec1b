import { type ReactNode, useMemo } from "react";
import { DatesContext } from "#app/ui/dates.ts";
import type { Calendar } from "#core/time/calendar.ts";
import { localDate } from "#core/time/local.ts";
import { isClosed, type Reader, readDay, readMoment, sayDay, sayMoment } from "#core/time/read.ts";

/** Lets the page's date fields read and say dates as the publication does. */
export function DatesOf({ now, zone, calendar, children }: Reader & { calendar: Calendar; children: ReactNode }) {
  const dates = useMemo(() => {
    const reader = { now, zone, calendar };
    return {
      zone,
      today: localDate(now, zone),
      readDay: (text: string) => readDay(text, reader),
      readMoment: (text: string, usual?: string | null) => readMoment(text, { ...reader, usual }),
      sayDay: (day: string) => sayDay(day, reader),
      sayMoment: (moment: string) => sayMoment(moment, reader),
      isClosed: (day: string) => isClosed(day, reader),
    };
  }, [now, zone, calendar]);
  return <DatesContext value={dates}>{children}</DatesContext>;
}
