import { standInFor } from "../people/absence.ts";
import { leastBusyFirst, peopleMeant } from "../people/principals.ts";
import type { Calendar } from "../time/calendar.ts";
import { arriveBy, due } from "../time/due.ts";
import type { Review } from "../workflow/document.ts";
import type { Candidate } from "./seating.ts";

/** Something a review does by the clock: whoever has not decided is reminded, or what follows for who is late does. */
export interface Call {
  /** Epoch milliseconds. */
  at: number;
  does: "remind" | "overdue";
}

/**
 * When an open review reminds and when what it says of the late follows, by the working calendar, in order.
 * A reminder that would fall before the review was opened is none: the call to decide was one.
 *
 * @param openedAt epoch milliseconds, as `dueAt`
 */
export function callsOf(
  review: Pick<Review, "remind" | "overdue">,
  { openedAt, dueAt }: { openedAt: number; dueAt: number | null },
  calendar: Calendar,
): Call[] {
  if (dueAt === null) return [];
  const reminders = review.remind.map((take): Call => ({ at: arriveBy(calendar, dueAt, take), does: "remind" }));
  const late: Call[] = review.overdue ? [{ at: due(calendar, dueAt, review.overdue.after), does: "overdue" }] : [];
  return [...reminders.filter(({ at }) => at > openedAt), ...late].sort((a, b) => a.at - b.at);
}

/** The calls that have come since others were made, and when the next one comes; null where none does. */
export function callsBetween(
  calls: readonly Call[],
  madeUntil: number,
  now: number,
): { come: Call[]; next: number | null } {
  return {
    come: calls.filter(({ at }) => at > madeUntil && at <= now),
    next: calls.find(({ at }) => at > now)?.at ?? null,
  };
}

/**
 * Who takes a late seat, as the review says: whoever stands in for its holder, or the least busy of those
 * it names. Nobody who wrote the piece where authors do not decide, who is away, or sits in the round already.
 *
 * @param seated ids of those who sit in the round
 * @returns null where the review only tells, or there is nobody
 */
export function takesOver(
  { overdue, authorMayDecide }: Pick<Review, "overdue" | "authorMayDecide">,
  holder: Candidate,
  { people, authorId, seated }: { people: readonly Candidate[]; authorId: string; seated: ReadonlySet<string> },
): Candidate | null {
  const barred = (id: string) => seated.has(id) || (id === authorId && !authorMayDecide);
  if (overdue?.do === "stand-in") {
    const standIn = standInFor(holder, people, barred);
    return standIn && (standIn.decides || holder.decides) ? standIn : null;
  }
  if (overdue?.do !== "pass" || !overdue.to) return null;
  const meant = new Set(peopleMeant([overdue.to], { authorId, assigneeIds: [], people }));
  const able = people.filter((one) => meant.has(one.id) && one.active && one.decides && !one.away && !barred(one.id));
  return able.toSorted(leastBusyFirst)[0] ?? null;
}
