import { and, asc, eq, gt, isNotNull } from "drizzle-orm";
import { pieceErased } from "#core/events/pieces.ts";
import { reviewDecided } from "#core/events/review.ts";
import { type Erased, follow, GENESIS, hashOf, settleErased, type Tail } from "#core/ledger/chain.ts";
import type { Database } from "../db/client.ts";
import { decision, ledger, ledgerTail, version } from "../db/schema/index.ts";

const BATCH = 2_000;

export interface Verification {
  entries: number;
  versions: number;
  /** The first thing that is wrong, in a sentence; null when all is sound. */
  broken: string | null;
}

/** Follows the ledger's chain from its first entry and computes every version's hash anew. */
export async function verifyLedger(db: Database): Promise<Verification> {
  let tail: Tail = { seq: 0, hash: GENESIS };
  let erased: Erased = new Map();
  const erasedPieces = new Set<string>();
  const stop = (broken: string) => ({ entries: tail.seq, versions: 0, broken });
  for (;;) {
    const entries = await db
      .select()
      .from(ledger)
      .where(gt(ledger.seq, tail.seq))
      .orderBy(asc(ledger.seq))
      .limit(BATCH);
    for (const entry of entries) {
      const next = follow(tail, entry);
      if (typeof next === "string") return stop(next);
      tail = next;
      if (entry.erasedBy !== null) erased = new Map([...erased, [entry.seq, { hash: entry.hash, by: entry.erasedBy }]]);
      if (entry.action !== pieceErased.name) continue;
      const left = settleErased(erased, entry.seq, entry.after);
      if (typeof left === "string") return stop(left);
      erased = left;
      if (entry.pieceId) erasedPieces.add(entry.pieceId);
    }
    if (entries.length < BATCH) break;
  }
  const [end] = await db.select().from(ledgerTail);
  if (end?.seq !== tail.seq || end.hash !== tail.hash) {
    return {
      entries: tail.seq,
      versions: 0,
      broken: `the ledger ends at entry ${tail.seq}, but ${end?.seq ?? 0} were written`,
    };
  }
  const [lost] = erased.keys();
  if (lost !== undefined) return stop(`entry ${lost} was emptied, and nothing says that it was erased`);
  return verifyVersions(db, tail.seq, erasedPieces);
}

async function verifyVersions(db: Database, entries: number, erasedPieces: ReadonlySet<string>): Promise<Verification> {
  let versions = 0;
  let last = "";
  for (;;) {
    const rows = await db.select().from(version).where(gt(version.id, last)).orderBy(asc(version.id)).limit(BATCH);
    for (const row of rows) {
      if (!erasedPieces.has(row.pieceId) && hashOf(row.content) !== row.hash)
        return { entries, versions, broken: `version ${row.number} of piece ${row.pieceId} is not what was saved` };
      versions += 1;
      last = row.id;
    }
    if (rows.length < BATCH) return { entries, versions, broken: await brokenSignature(db) };
  }
}

/** The first signature that is not of the text it names, or not as the record has it; null when all are. */
async function brokenSignature(db: Database): Promise<string | null> {
  const signed = await db
    .select({ decision, hash: version.hash, number: version.number, after: ledger.after })
    .from(decision)
    .innerJoin(version, eq(version.id, decision.versionId))
    .leftJoin(ledger, and(eq(ledger.subjectId, decision.id), eq(ledger.action, reviewDecided.name)))
    .where(isNotNull(decision.signature))
    .orderBy(asc(decision.id));
  for (const { decision: made, hash, number, after } of signed) {
    const kept = after as { signature?: string; hash?: string } | null;
    if (made.signedHash !== hash)
      return `the signature of “${made.signature}” is of another text than version ${number}`;
    // What was erased left its place in the chain, and nothing to compare with.
    if (kept && "signature" in kept && (kept.signature !== made.signature || kept.hash !== hash))
      return `the signature of “${made.signature}” is not what the record has`;
  }
  return null;
}
