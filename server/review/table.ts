import { can, type Holder } from "#core/access/decide.ts";
import type { Table } from "#core/review/deciding.ts";
import { loadHolders } from "../access/holders.ts";
import type { Queryable } from "../db/client.ts";
import type { Piece } from "../piece/facts.ts";
import { type OpenRound, standoffOf } from "./rounds.ts";

/**
 * What deciding on a piece needs to know, with what those who sit may do.
 *
 * @param asking people who ask besides those who sit, with what they hold
 */
export async function tableOf(
  db: Queryable,
  facts: Piece,
  current: OpenRound | null,
  asking: readonly Holder[],
  now: number,
): Promise<Table> {
  const ids = current?.seats.flatMap((one) => [one.personId, ...(one.forPersonId ? [one.forPersonId] : [])]) ?? [];
  const unknown = [...new Set(ids)].filter((id) => !asking.some((one) => one.id === id));
  const sitting = unknown.length > 0 ? await loadHolders(db, unknown) : new Map<string, Holder>();
  const holderOf = (id: string) => asking.find((one) => one.id === id) ?? sitting.get(id);
  return {
    workflow: facts.workflow,
    state: facts.state,
    round: current && standoffOf(current),
    mayDecide: (id) => {
      const holder = holderOf(id);
      return holder !== undefined && can(holder, "review.decide", facts.target, now).allowed;
    },
  };
}
