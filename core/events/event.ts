import type { z } from "zod";

/** How much something asks of whoever is told, the most first: of several things in one write a person hears the first. */
export const ASKS = ["decision", "mending", "work", "look", "nothing", "week"] as const;
export type Asks = (typeof ASKS)[number];

/** An event as it is put into words: what was kept of it, and what the things it names are called today. */
export interface Occasion<P> {
  payload: P;
  /** Who did it; null for the system itself. */
  actor: string | null;
  /** The piece's title; empty where it is about none, or about one the reader may not see. */
  title: string;
  /** What one person's notice says beyond the event. */
  params: Readonly<Record<string, unknown>>;
  /** An instant in words, in the reader's zone. @param at epoch milliseconds */
  when(at: number): string;
}

/** What some of the people concerned are told. */
export interface Telling<P> {
  asks: Asks | ((payload: P) => Asks);
  /** The headline, which stands alone. */
  says(occasion: Occasion<P>): string;
  /** Somebody's own words, as they were written. */
  note?(occasion: Occasion<P>): string;
  /** Further plain lines for the mail. */
  lines?(occasion: Occasion<P>): string[];
}

/** Where a notice of an event leads. */
export type Leads =
  | "flow"
  | "piece"
  | "remark"
  | "account"
  | "workflows"
  | "edition"
  | "rules"
  | "intake"
  | "assistant";

/** A kind of event: one typed entry of the catalogue. */
export interface EventKind<P = never, T extends string = string> {
  name: string;
  /** What is kept of it on the ledger. */
  payload: z.ZodType<P>;
  /** What happened, as the end of a sentence that begins with a name. */
  says(payload: P): string;
  tells: Readonly<Record<T, Telling<P>>>;
  leads: Leads;
  /** Whether it changes what the search finds in its piece. */
  words: boolean;
  /** Whether it is something said of a piece, which people choose apart how to be told of. */
  remark: boolean;
}

/** Something that happened, as a command says it. */
export interface Happening {
  kind: EventKind;
  payload: unknown;
  pieceId?: string | undefined;
  /** What it was about, beside the piece. */
  subjectId?: string | undefined;
  /** On whose behalf, when a stand-in acts. */
  forId?: string | null | undefined;
  /** What stood there before. */
  before?: unknown;
  /** Who is told what, by id. */
  told: { part: string; to: readonly string[]; params: Record<string, unknown> | null }[];
}

interface Spec<P, T extends string> {
  payload: z.ZodType<P>;
  says(payload: NoInfer<P>): string;
  tells?: Record<T, Telling<NoInfer<P>>>;
  leads?: Leads;
  words?: boolean;
  remark?: boolean;
}

/** Makes an entry of the catalogue. */
export function event<P, T extends string = never>(name: string, spec: Spec<P, T>): EventKind<P, T> {
  return { name, leads: "piece", words: false, remark: false, tells: {} as Record<T, Telling<P>>, ...spec };
}

/** How much a telling asks, for one event. */
export const asks = <P>(telling: Telling<P>, payload: P): Asks =>
  typeof telling.asks === "function" ? telling.asks(payload) : telling.asks;
