import { and, inArray, isNotNull } from "drizzle-orm";
import type { Ended } from "#core/flow/help.ts";
import type { Stay } from "#core/flow/measure.ts";
import { openTime } from "#core/time/due.ts";
import { groupBy } from "#core/words/group.ts";
import type { Workflow } from "#core/workflow/document.ts";
import type { Queryable } from "../db/client.ts";
import { stay, thread } from "../db/schema/index.ts";
import type { Viewer } from "../viewer.ts";
import { mayConfigure } from "../workflows/staff.ts";
import { titlesOf } from "./queries.ts";

/** So many returns are looked at, the latest, and so many of their notes are shown at a stop. */
const [LOOKED_AT, NOTES] = [500, 3];
/** Fewer that a step's requirement would have caught say nothing of it. */
const CAUGHT_LEAST = 3;

/** What asking for settled remarks would have kept back. */
export interface Unsettled {
  /** The stays it would have spared. */
  caught: Ended[];
  /** How long it took until those that are there again were, on average, in open milliseconds; null where none is. */
  took: number | null;
  step: string;
  /** Where it can be asked of the step, for who may; null for others. */
  to: string | null;
}

/** What came back from a stop, and why. */
export interface Returned {
  stop: string;
  name: string;
  of: number;
  /** How many remarks of each sort were made meanwhile, the most first. */
  kinds: { name: string; count: number }[];
  /** What was said of it, the latest first. */
  notes: { slug: string; title: string; note: string }[];
  /** How many were sent there with remarks still open, where the step asks nothing of that. */
  unsettled: Unsettled | null;
}

/**
 * Why pieces came back, by the stop they came back from, that with the most first: the sorts of the remarks made while
 * they were there, the notes of those who returned them, and what asking for settled remarks would have kept back.
 *
 * @param stays with those a viewer may see
 */
export async function returnsOf(
  db: Queryable,
  viewer: Viewer,
  document: Workflow,
  stays: readonly Stay[],
): Promise<Returned[]> {
  const back = stays
    .flatMap(({ leftAt, ...one }) => (one.back && leftAt !== undefined ? [{ ...one, leftAt }] : []))
    .sort((a, b) => b.leftAt - a.leftAt)
    .slice(0, LOOKED_AT);
  if (back.length === 0) return [];
  const ids = [...new Set(back.map((one) => one.piece))];
  const [threads, next, titles] = await Promise.all([
    db
      .select({ pieceId: thread.pieceId, kind: thread.kind, sentAt: thread.sentAt, settledAt: thread.settledAt })
      .from(thread)
      .where(and(inArray(thread.pieceId, ids), isNotNull(thread.sentAt))),
    db
      .select({ pieceId: stay.pieceId, at: stay.arrivedAt, note: stay.note })
      .from(stay)
      .where(inArray(stay.pieceId, ids)),
    titlesOf(db, viewer, ids),
  ]);
  const remarks = groupBy(threads, (one) => one.pieceId);
  const ways = groupBy(stays, (one) => one.piece);
  const noteAt = new Map(next.map(({ pieceId, at, note }) => [`${pieceId} ${at}`, note]));
  const sorts = new Map<string | null, string>(viewer.places.remarkKinds.map(({ key, name }) => [key, name]));
  return [...groupBy(back, (one) => one.state)]
    .map(([stop, some]): Returned => {
      const count = new Map<string, number>();
      const unsettled: Ended[] = [];
      for (const { piece, arrivedAt, leftAt } of some) {
        const all = remarks.get(piece) ?? [];
        if (all.some(({ sentAt, settledAt }) => (sentAt ?? leftAt) < arrivedAt && (settledAt ?? leftAt) > arrivedAt))
          unsettled.push({ piece, leftAt });
        for (const { kind, sentAt } of all) {
          if (sentAt === null || sentAt < arrivedAt || sentAt > leftAt) continue;
          const name = sorts.get(kind) ?? "of no sort";
          count.set(name, (count.get(name) ?? 0) + 1);
        }
      }
      const step = document.transitions.find(
        ({ to, requires }) => to === stop && !requires.includes("comments-settled"),
      );
      const notes = some.flatMap(({ piece, leftAt }) => {
        const note = noteAt.get(`${piece} ${leftAt}`);
        const known = titles[piece];
        return note && known ? [{ slug: known.slug, title: known.title, note }] : [];
      });
      return {
        stop,
        name: document.states.find((one) => one.key === stop)?.name ?? stop,
        of: some.length,
        kinds: [...count].map(([name, count]) => ({ name, count })).sort((a, b) => b.count - a.count),
        notes: notes.slice(0, NOTES),
        unsettled:
          unsettled.length >= CAUGHT_LEAST && step
            ? {
                caught: unsettled,
                took: meanOf(
                  unsettled.flatMap(({ piece, leftAt }) => {
                    const again = cameAgain(ways.get(piece) ?? [], stop, leftAt);
                    return again === null ? [] : [openTime(viewer.calendar, leftAt, again)];
                  }),
                ),
                step: step.name,
                to: mayConfigure(viewer, viewer.now) ? `/workflows/${document.key}?step=${step.key}` : null,
              }
            : null,
      };
    })
    .sort((a, b) => b.of - a.of);
}

/** When a piece was at a stop again after it had come back from it; null where it is not. */
function cameAgain(way: readonly Stay[], stop: string, leftAt: number): number | null {
  const again = way.filter((one) => one.state === stop && one.arrivedAt >= leftAt).map((one) => one.arrivedAt);
  return again.length === 0 ? null : Math.min(...again);
}

const meanOf = (all: readonly number[]) =>
  all.length === 0 ? null : all.reduce((sum, one) => sum + one, 0) / all.length;
