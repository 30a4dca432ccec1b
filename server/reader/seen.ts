import { inArray, max } from "drizzle-orm";
import type { Database } from "../db/client.ts";
import { ledger } from "../db/schema/index.ts";

/** What changes anything readers see. */
const SEEN = [
  "piece.released",
  "piece.withdrawn",
  "piece.deleted",
  "piece.restored",
  "piece.erased",
  "piece.placed",
  "piece.author-changed",
  "file.described",
  "file.removed",
  "file.returned",
  "publication.changed",
  "publication.begun",
  "section.renamed",
  "section.moved",
  "section.made",
  "section.deleted",
  "kind.changed",
];

/** How long a node answers from what it asked last, in milliseconds: so old may be what readers see. */
const FRESH = 500;

/** What readers see, numbered: the ledger's entry that changed it last. */
export interface Seen {
  number: number;
}

const kept = new WeakMap<Database, { asked: number; seen: Promise<Seen> }>();

/**
 * The number of what readers see now. Whatever changes it is on the ledger, in the same transaction; a node asks
 * twice a second, however many read.
 */
export function seenNow(db: Database): Promise<Seen> {
  const now = performance.now();
  const known = kept.get(db);
  if (known && now - known.asked < FRESH) return known.seen;
  const seen = db
    .select({ number: max(ledger.seq) })
    .from(ledger)
    .where(inArray(ledger.action, SEEN))
    .then(([row]) => ({ number: row?.number ?? 0 }));
  const entry = { asked: now, seen };
  kept.set(db, entry);
  seen.catch(() => kept.get(db) === entry && kept.delete(db));
  return seen;
}
