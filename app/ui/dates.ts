import { createContext, useContext } from "react";

/** How a page reads and says dates; a day is `2026-11-26`, a moment `2026-11-26T17:30`, both local to its reader. */
export interface Dates {
  today: string;
  readDay(text: string): string | null;
  /** @param usual the time of day that is meant where none is said */
  readMoment(text: string, usual?: string | null): string | null;
  sayDay(day: string): string;
  sayMoment(moment: string): string;
  /** Whether nobody works on a day. */
  isClosed(day: string): boolean;
  /** The zone dates are meant in, where it is worth saying. */
  zone: string;
}

export const DatesContext = createContext<Dates | null>(null);

export function useDates(): Dates {
  const dates = useContext(DatesContext);
  if (!dates) throw new Error("this page says no dates");
  return dates;
}
