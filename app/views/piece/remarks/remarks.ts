import { createContext, useContext } from "react";
import type { FormAnswer } from "#app/form-answer.ts";
import type { Quote, Range } from "#core/text/anchor.ts";
import type { Span } from "#core/text/annotate.ts";
import type { PiecePageData } from "#server/pieces/page.ts";
import type { PiecePage } from "../page.ts";

export type Thread = PiecePageData["threads"][number];

/** What a card in the margin is given. */
export interface CardProps {
  page: PiecePage;
  thread: Thread;
  /** The viewer's id. */
  viewer: string;
  answer: FormAnswer | null | undefined;
  /** Whether it is shown in short: who, and how it begins. */
  folded: boolean;
}

/** What a remark that is being written is on. */
export interface Place {
  field: string;
  picture?: string;
  range?: Range;
  quote?: Quote;
}

/** A remark that is being written: where, and whether other wording is proposed. */
export interface Composing {
  place: Place;
  proposes: boolean;
}

/** Which remarks are shown. */
export interface Filter {
  show: "open" | "all" | "mine" | "kept";
  kind: string;
  person: string;
  round: string;
}

export const EVERYTHING_OPEN: Filter = { show: "open", kind: "", person: "", round: "" };

/** Whether a filter shows a thread. @param viewer the viewer's id */
export function shows({ show, kind, person, round }: Filter, thread: Thread, viewer: string): boolean {
  if (show === "open" && thread.settledAt !== null) return false;
  if (show === "mine" && !thread.comments.some((one) => one.authorId === viewer)) return false;
  if (show === "kept" && thread.sentAt !== null) return false;
  if (kind && thread.kind !== kind) return false;
  if (person && thread.author !== person) return false;
  return !round || String(thread.round) === round;
}

/** Whether a thread stands on words that are there. */
export const stands = ({ anchor }: Thread) => anchor !== null && !anchor.gone;

/** The runs of a field that threads stand on; a settled one marks its words no more. */
export const spansOf = (threads: readonly Thread[], field: string): Span[] =>
  threads.flatMap((thread) => {
    const { id, anchor, proposal, settledAt } = thread;
    if (thread.field !== field || !anchor || anchor.gone || settledAt !== null) return [];
    // What was proposed for other words than stand there is not shown as if it were for these.
    return [{ id, start: anchor.start, end: anchor.end, wording: anchor.exact === thread.madeOn ? proposal : null }];
  });

/** What the text, the margin and the keys of a piece's remarks share. */
export interface Remarks {
  threads: readonly Thread[];
  /** The thread one is at. */
  chosen: string | null;
  choose(id: string | null): void;
  composing: Composing | null;
  compose(composing: Composing | null): void;
  /** Where something was done last, a thread or whose wordings: there its refusal is said, and nowhere else. */
  acted: { current: string | null };
  /** How a field that is being written in says what is selected in it. */
  selected: Map<string, () => Range | null>;
}

export const RemarksContext = createContext<Remarks | null>(null);

export function useRemarks(): Remarks {
  const remarks = useContext(RemarksContext);
  if (!remarks) throw new Error("there is no piece around");
  return remarks;
}
