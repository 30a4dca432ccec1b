import type { Columns } from "#app/packed.ts";
import type { Usual } from "#core/release/channel.ts";
import type { Finding, Lookout } from "#core/release/findings.ts";
import type { Windows } from "#core/release/window.ts";
import type { PieceRow } from "#server/pieces/rows.ts";
import type { Mark } from "#server/schedule/mark.ts";
import type { besideTimetable } from "#server/schedule/timetable.ts";

/** What the schedule shows. */
export interface SchedulePage {
  marks: Mark[];
  rows: PieceRow[];
  /** What to look at, each in its channel. */
  findings: (Finding & { channel: string })[];
  /** The reader site first. */
  channels: ChannelShown[];
  beside: Awaited<ReturnType<typeof besideTimetable>>;
  sections: { id: string; key: string; name: string }[];
  kinds: { id: string; key: string; name: string }[];
  people: { id: string; name: string }[];
  /** The first day shown, how many weeks, what stands down, and the first and last day of the list. */
  wanted: { from: string; weeks: number; by: By; listFrom: string; listUntil: string };
}

/** The same on its way to the page. */
export type ScheduleSent = Omit<SchedulePage, "marks"> & { marks: Columns<Mark> };

/** A channel as the schedule goes by it. */
export interface ChannelShown {
  key: string;
  name: string;
  windows: Windows;
  windowed: boolean;
  lookout: Lookout;
  /** What holds of what leaves through it one by one, where nothing else is said. */
  usual: Usual;
  /** Whether it goes out in editions. */
  gathers: boolean;
}

export const BY = ["section", "channel", "kind", "person"] as const;
export type By = (typeof BY)[number];
export const WEEKS = [2, 4, 6, 13] as const;
