import { localDate } from "../time/local.ts";

/** A version as far as thinning out asks. */
export interface PastVersion {
  id: string;
  number: number;
  authorId: string;
  /** When its last words were saved, epoch milliseconds. */
  at: number;
  /** Whether somebody named, decided on, commented, planned or released it, or came to look at it. */
  reliedOn: boolean;
}

/** A version whose words are so many milliseconds old may be thinned out. */
export const THINNED_AFTER = 30 * 86_400_000;

/**
 * Which old versions of a piece may go: those nobody relies on, that were never handed over, and
 * whose author wrote a later one on the same day. So of each writer's day its end remains.
 *
 * @param versions all of a piece's, in the order of their numbers
 * @param handovers when the piece came into a state, epoch milliseconds: what was the newest then was sent
 * @param before only versions older than this go
 * @param zone in which a day is counted
 */
export function thinnedOut(
  versions: readonly PastVersion[],
  handovers: readonly number[],
  before: number,
  zone: string,
): PastVersion[] {
  return versions.filter((one, i) => {
    const next = versions[i + 1];
    if (!next || one.reliedOn || one.at >= before) return false;
    if (handovers.some((at) => at >= one.at && at < next.at)) return false;
    const day = localDate(one.at, zone);
    return versions.slice(i + 1).some((other) => other.authorId === one.authorId && localDate(other.at, zone) === day);
  });
}
