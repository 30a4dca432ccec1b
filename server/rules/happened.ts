import { and, asc, desc, gt, inArray, isNotNull } from "drizzle-orm";
import type { RuleEvent } from "#core/rules/document.ts";
import type { Happened } from "#core/rules/match.ts";
import { chainOf } from "#core/rules/origin.ts";
import type { Queryable } from "../db/client.ts";
import { ledger } from "../db/schema/index.ts";

/** An entry of the ledger that rules may hear. */
export interface Heard {
  /** Its number; null for what the clock began. */
  seq: number | null;
  at: number;
  pieceId: string;
  /** The number of the entry its chain began with. */
  chain: number;
  events: Pick<Happened, "event" | "state" | "fields">[];
}

type Said = { state?: string; moved?: boolean; fields?: string[] };

/** What an entry is for the rules, by what it says. */
const MEANS: Record<string, (said: Said) => Heard["events"]> = {
  "piece.created": () => [{ event: "piece.begun" }],
  "piece.moved": arrived,
  "piece.recalled": arrived,
  "piece.rerouted": (said) => (said.moved ? arrived(said) : []),
  "revision.abandoned": arrived,
  "version.saved": ({ fields }) => (fields && fields.length > 0 ? [{ event: "piece.changed", fields }] : []),
  "piece.reassigned": () => [{ event: "piece.assigned" }],
  "comment.made": () => [{ event: "comment.made" }],
  "review.decided": () => [{ event: "review.decided" }],
  "piece.released": () => [{ event: "release.done" }],
};

/** By what an event is on the record. */
const ACTIONS: Partial<Record<RuleEvent, string[]>> = {
  "piece.begun": ["piece.created"],
  "piece.arrived": ["piece.moved", "piece.recalled", "piece.rerouted", "revision.abandoned"],
  "piece.changed": ["version.saved"],
  "piece.assigned": ["piece.reassigned"],
  "comment.made": ["comment.made"],
  "review.decided": ["review.decided"],
  "release.done": ["piece.released"],
};

function arrived({ state }: Said): Heard["events"] {
  return state === undefined ? [] : [{ event: "piece.arrived", state }];
}

/**
 * The entries after one, oldest first, or since an instant, latest first, that rules may hear.
 *
 * @param where after which number, and where it is wanted not before which instant (epoch milliseconds), of which event
 */
export async function heardAfter(
  db: Queryable,
  where: { after: number; since?: number; event?: RuleEvent },
  most: number,
): Promise<{ heard: Heard[]; upTo: number | null }> {
  const rows = await db
    .select({
      seq: ledger.seq,
      at: ledger.at,
      action: ledger.action,
      pieceId: ledger.pieceId,
      after: ledger.after,
      origin: ledger.origin,
    })
    .from(ledger)
    .where(
      and(
        gt(ledger.seq, where.after),
        where.since === undefined ? undefined : gt(ledger.at, where.since),
        isNotNull(ledger.pieceId),
        inArray(ledger.action, where.event ? (ACTIONS[where.event] ?? []) : Object.keys(MEANS)),
      ),
    )
    // Of too many since an instant the latest are taken.
    .orderBy(where.since === undefined ? asc(ledger.seq) : desc(ledger.seq))
    .limit(most);
  const heard = rows.flatMap(({ seq, at, action, pieceId, after, origin }): Heard[] => {
    const events = MEANS[action]?.((after ?? {}) as Said) ?? [];
    const chain = chainOf(origin) ?? seq;
    return pieceId === null || events.length === 0 ? [] : [{ seq, at, pieceId, chain, events }];
  });
  return { heard, upTo: rows.length < most ? null : (rows.at(-1)?.seq ?? null) };
}
