import { eq } from "drizzle-orm";
import type { Happening } from "#core/events/event.ts";
import { entryHash, type LedgerEntry } from "#core/ledger/chain.ts";
import type { Transaction } from "../db/client.ts";
import { insertAll } from "../db/insert.ts";
import { ledger, ledgerTail } from "../db/schema/index.ts";

interface Source {
  personId: string | null;
  now: number;
  origin: string;
  requestId: string;
}

/**
 * Appends entries to the chain. The tail's row is locked last of all a write's locks and until the
 * commit, so the sequence has no gaps and follows the order of the commits: who has read up to a
 * number has missed nothing before it.
 *
 * @returns the number of the last entry
 */
export async function appendToLedger(
  tx: Transaction,
  source: Source,
  happenings: readonly Happening[],
): Promise<number> {
  const [tail] = await tx.select().from(ledgerTail).where(eq(ledgerTail.id, 1)).for("update");
  if (!tail) throw new Error("the ledger has no tail; the database was not migrated");
  let { seq, hash } = tail;
  const entries = function* () {
    // Each is hashed as it is asked for: thousands in one breath would hold the node.
    for (const said of happenings) {
      const entry = entryOf(++seq, source, said);
      const previous = hash;
      hash = entryHash(entry, previous);
      yield { ...entry, previous, hash };
    }
  };
  await insertAll(tx, ledger, entries());
  await tx.update(ledgerTail).set({ seq, hash }).where(eq(ledgerTail.id, 1));
  return seq;
}

const entryOf = (seq: number, source: Source, said: Happening): LedgerEntry => ({
  seq,
  at: source.now,
  actorId: source.personId,
  forId: said.forId ?? null,
  action: said.kind.name,
  pieceId: said.pieceId ?? null,
  subjectId: said.subjectId ?? null,
  before: asJson(said.before),
  after: asJson(said.payload),
  origin: source.origin,
  requestId: source.requestId,
});

/** The value as it will be read back from a JSON column. */
function asJson(value: unknown): unknown {
  const empty = value === undefined || value === null || Object.keys(value).length === 0;
  return empty ? null : JSON.parse(JSON.stringify(value));
}
