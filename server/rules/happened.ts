import { and, asc, desc, gt, inArray } from "drizzle-orm";
import { isComing, type RuleEvent } from "#core/rules/document.ts";
import type { Happened } from "#core/rules/match.ts";
import { chainOf } from "#core/rules/origin.ts";
import type { Queryable } from "../db/client.ts";
import { ledger } from "../db/schema/index.ts";

/** What something happened to: a piece, or what came in, by its id. */
export interface About {
  sort: "piece" | "item";
  id: string;
}

/** An entry of the ledger that rules may hear. */
export interface Heard {
  /** Its number; null for what the clock began. */
  seq: number | null;
  at: number;
  about: About;
  /** The number of the entry its chain began with. */
  chain: number;
  events: Pick<Happened, "event" | "state" | "fields">[];
}

type Said = { state?: string; moved?: boolean; fields?: string[]; items?: string[] };

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
  "request.came": () => [{ event: "request.came" }],
  "material.came": () => [{ event: "material.came" }],
  "mail.came": () => [{ event: "material.came" }],
  "report.came": () => [{ event: "report.came" }],
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
  "request.came": ["request.came"],
  "material.came": ["material.came", "mail.came"],
  "report.came": ["report.came"],
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
      subjectId: ledger.subjectId,
      after: ledger.after,
      origin: ledger.origin,
    })
    .from(ledger)
    .where(
      and(
        gt(ledger.seq, where.after),
        where.since === undefined ? undefined : gt(ledger.at, where.since),
        inArray(ledger.action, where.event ? (ACTIONS[where.event] ?? []) : Object.keys(MEANS)),
      ),
    )
    // Of too many since an instant the latest are taken.
    .orderBy(where.since === undefined ? asc(ledger.seq) : desc(ledger.seq))
    .limit(most);
  const heard = rows.flatMap(({ seq, at, action, after, origin, ...of }): Heard[] => {
    const said = (after ?? {}) as Said;
    const events = MEANS[action]?.(said) ?? [];
    const chain = chainOf(origin) ?? seq;
    const [first] = events;
    return first ? aboutOf(first.event, said, of).map((about) => ({ seq, at, about, chain, events })) : [];
  });
  return { heard, upTo: rows.length < most ? null : (rows.at(-1)?.seq ?? null) };
}

/** What an entry is about: a piece, or what came in, of which there may be several. */
function aboutOf(
  event: RuleEvent,
  { items }: Said,
  { pieceId, subjectId }: { pieceId: string | null; subjectId: string | null },
): About[] {
  if (isComing(event)) return (items ?? (subjectId ? [subjectId] : [])).map((id) => ({ sort: "item", id }));
  return pieceId === null ? [] : [{ sort: "piece", id: pieceId }];
}
