import type { Finding, Lookout } from "#core/release/findings.ts";
import type { Windows } from "#core/release/window.ts";
import type { PieceRow } from "#server/pieces/rows.ts";
import type { besideTimetable, Mark } from "#server/pieces/timetable.ts";

/** What the schedule shows, as its loader gives it. */
export interface SchedulePage {
  marks: Mark[];
  rows: PieceRow[];
  findings: Finding[];
  windows: Windows;
  windowed: boolean;
  lookout: Lookout;
  beside: Awaited<ReturnType<typeof besideTimetable>>;
  sections: { id: string; key: string; name: string }[];
  kinds: { id: string; key: string; name: string }[];
  people: { id: string; name: string }[];
  /** The first day shown, how many weeks, what stands down, and the first and last day of the list. */
  wanted: { from: string; weeks: number; by: By; listFrom: string; listUntil: string };
}

export const BY = ["section", "kind", "person"] as const;
export type By = (typeof BY)[number];
export const WEEKS = [2, 4, 6, 13] as const;
