import type { Refusal } from "#core/refusal.ts";

/** What is true of words that save themselves; `E` is what is known where they and the server's went apart. */
export type Saving<E = never> =
  | { kind: "saved"; at: number | null }
  | { kind: "waiting" }
  /** `typed`: more came since they were sent. */
  | { kind: "saving"; typed: boolean }
  /** They are in this browser alone, and are sent again by themselves. */
  | { kind: "kept"; reason: string }
  | { kind: "refused"; refusal: Refusal }
  /** The server's went on, and both changed the same place: the person chooses. */
  | { kind: "apart"; between: E };

/** What became of words that were sent. */
export type Outcome<E = never> =
  | { kind: "saved"; at: number | null }
  | { kind: "merged" }
  | { kind: "kept"; reason: string }
  | { kind: "refused"; refusal: Refusal }
  | { kind: "apart"; between: E };

/** What happens to words that save themselves. `touched`: something is typed that will come in a moment. */
export type Happens<E = never> = Outcome<E> | { kind: "typed" | "touched" | "sent" | "chosen" };

/** How long until words that could not be saved are sent again, in milliseconds. */
const AGAIN = 5_000;

/**
 * What is true after something happened. Words typed while others are on their way wait for these to arrive; a
 * choice that is open stays open; what was refused for what somebody else changed stays so until one of both is taken.
 */
export function follow<E>(state: Saving<E>, event: Happens<E>): Saving<E> {
  switch (event.kind) {
    case "typed":
      if (state.kind === "apart" || isStale(state)) return state;
      return state.kind === "saving" ? { kind: "saving", typed: true } : { kind: "waiting" };
    case "touched":
      return state.kind === "saved" ? { kind: "waiting" } : state;
    case "sent":
      return { kind: "saving", typed: false };
    case "chosen":
    case "merged":
      return { kind: "waiting" };
    case "saved":
      return state.kind === "saving" && state.typed ? { kind: "waiting" } : { kind: "saved", at: event.at };
    default:
      return event;
  }
}

const isStale = (state: Saving<unknown>) => state.kind === "refused" && state.refusal.code === "stale";

/**
 * When words are sent by themselves.
 *
 * @param pause how long a pause in typing is, in milliseconds
 * @returns milliseconds from when this became true; null where somebody must do something first
 */
export function sendsIn(state: Saving<unknown>, pause: number): number | null {
  if (state.kind === "waiting") return pause;
  // What somebody else holds is free again in a while.
  const held = state.kind === "refused" && state.refusal.code === "held";
  return state.kind === "kept" || held ? AGAIN : null;
}
