import type { Carried } from "#core/release/carry.ts";

/** What a mark of the timetable stands for. */
export type MarkKind = "left" | "planned" | "proposed" | "held" | "wished" | "ends" | "edition";

/** One thing that leaves, left, is wished for or ends. Instants are epoch milliseconds. */
export interface Mark extends Carried {
  /** The piece's id, with the channel before it where that is not the reader site; of an end or an edition, with a word before its own. */
  id: string;
  /** The piece it is of; null for a whole edition. */
  pieceId: string | null;
  /** Where it is looked at. */
  to: string;
  channel: string;
  title: string;
  revision: number;
  what: MarkKind;
  sectionId: string;
  authorId: string;
  /** Whether it could be planned at once. */
  ready: boolean;
  /** When it is expected, where that is after it is wished for. */
  expected: number | null;
  /** Whether readers see an earlier version of it. */
  replaces: boolean;
  /** What holds it, or will, in sentences. */
  holds: string[];
  by: string | null;
  movable: boolean;
  confirmable: boolean;
  /** Of a whole edition: how far it is filled, and what of it is still on its way. */
  edition: {
    id: string;
    ready: number;
    of: number;
    coming: { title: string; way: NonNullable<Carried["way"]> }[];
  } | null;
}

/** What of the schedule is looked at: a span, narrowed to a section with all below it or a kind, by their keys. */
export interface TimetableWanted {
  from: number;
  until: number;
  section?: string | undefined;
  kind?: string | undefined;
}
