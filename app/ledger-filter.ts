import { fromLocalInput } from "#core/time/local.ts";
import type { LedgerFilter } from "#server/ledger/queries.ts";

const DAY = 86_400_000;

/** What a record's address narrows it to; days are the publication's, the last one included. */
export function ledgerFilter(words: URLSearchParams, zone: string): LedgerFilter {
  const get = (key: string) => words.get(key)?.trim().slice(0, 100) || undefined;
  const day = (key: string, more: number) => {
    const text = get(key);
    if (!text || Number.isNaN(Date.parse(text))) return undefined;
    return fromLocalInput(`${new Date(Date.parse(text) + more).toISOString().slice(0, 10)}T00:00`, zone) ?? undefined;
  };
  const before = Number(get("before"));
  return {
    person: get("person"),
    piece: get("piece"),
    action: get("action"),
    from: day("from", 0),
    until: day("until", DAY),
    ...(before > 0 && { before }),
  };
}
