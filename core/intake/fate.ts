import type { StateKind } from "../workflow/document.ts";
import type { Standing } from "./item.ts";

/** A request on its way, as whoever sent it sees it. */
export interface Fate {
  stops: { name: string; done: boolean; here: boolean }[];
  /** Where it stands, in plain words. */
  sentence: string;
}

const STOPS = ["Sent", "Read", "In work", "Out"] as const;

/**
 * What became of a request, on a strip of four stops and in a sentence. Of the workshop it says no more than whether
 * the piece is in work or out.
 *
 * @param piece how the piece stands it became; null where it became none, or that is no more
 * @param words what was asked back, why it was declined, and, of a reader's word taken for a correction, whether that is out
 */
export function fateOf(
  standing: Standing,
  piece: { state: StateKind; out: boolean } | null,
  words: { question: string; reason: string; corrected: boolean | null },
): Fate {
  const [at, sentence] = place();
  return {
    stops: STOPS.map((name, i) => ({ name, done: i < at || (i === at && name === "Out"), here: i === at })),
    sentence,
  };

  function place(): [number, string] {
    switch (standing) {
      case "unconfirmed":
        return [0, "Your address is not confirmed yet: follow the link in our mail."];
      case "waiting":
        return [0, "It is with us, and waits to be read."];
      case "asked":
        return [0, words.question || "We asked you something back."];
      case "declined":
        return [1, `We cannot do it: ${words.reason}`];
      case "withdrawn":
        return [0, "You took it back."];
      case "answered":
        return [1, "We answered it."];
      default:
        if (words.corrected !== null) return words.corrected ? [3, "It is corrected."] : [2, "We are correcting it."];
        if (piece?.out) return [3, "It is out."];
        if (piece === null || piece.state === "closed") return [2, "We began it, and it was not finished."];
        return [2, standing === "joined" ? "It goes into something we were writing already." : "It is being written."];
    }
  }
}
