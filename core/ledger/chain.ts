import { sha256 } from "@noble/hashes/sha2.js";
import { bytesToHex, utf8ToBytes } from "@noble/hashes/utils.js";
import canonicalize from "canonicalize";

/** What one entry of the ledger says. Instants are epoch milliseconds, UTC. */
export interface LedgerEntry {
  /** Counts from 1 without gaps, in the order of the commits. */
  seq: number;
  at: number;
  actorId: string | null;
  /** On whose behalf, when a stand-in acts. */
  forId: string | null;
  action: string;
  pieceId: string | null;
  subjectId: string | null;
  before: unknown;
  after: unknown;
  /** Where from: an address, or the name of a job. */
  origin: string;
  requestId: string;
}

/** The hash that stands before the first entry. */
export const GENESIS = "0".repeat(64);

/**
 * The SHA-256 of a value's canonical JSON (RFC 8785), in lower-case hex.
 *
 * @throws Error for what JSON cannot hold
 */
export function hashOf(value: unknown): string {
  return bytesToHex(sha256(utf8ToBytes(canonicalize(value) as string)));
}

/** An entry's hash: over what it says and the hash of the entry before it. */
export function entryHash(entry: LedgerEntry, previous: string): string {
  return hashOf({ entry, previous });
}

/** Where a chain stands after so many entries. */
export interface Tail {
  seq: number;
  hash: string;
}

/** An entry as it is kept: chained, and perhaps erased by a later one, which is named. */
export interface KeptEntry extends LedgerEntry {
  previous: string;
  hash: string;
  erasedBy: number | null;
}

/** Entries whose words are gone, by number: their hash, and the entry that says it erased them. */
export type Erased = ReadonlyMap<number, { hash: string; by: number }>;

/**
 * Takes what an entry says it erased out of what is known to be erased.
 *
 * @param payload what an entry `piece.erased` keeps
 * @returns what is left, or a sentence where the two do not agree
 */
export function settleErased(erased: Erased, seq: number, payload: unknown): Erased | string {
  const said = (payload as { entries?: { seq: number; hash: string }[] } | null)?.entries ?? [];
  const listed = new Map(said.map((one) => [one.seq, one.hash]));
  const left = new Map(erased);
  for (const [number, { hash, by }] of erased) {
    if (by !== seq) continue;
    if (listed.get(number) !== hash) return `entry ${number} was changed after it was written`;
    left.delete(number);
  }
  return left;
}

/**
 * Follows a chain by one entry. What an entry said may have been erased by a later one: then its hash
 * stands for it, and that later entry holds the same (see `settleErased`).
 *
 * @returns the new tail, or a sentence that says what is wrong with the entry
 */
export function follow(tail: Tail, entry: KeptEntry): Tail | string {
  const { previous, hash, erasedBy, ...said } = entry;
  if (entry.seq !== tail.seq + 1) return `entry ${tail.seq + 1} is missing`;
  if (previous !== tail.hash) return `entry ${entry.seq} does not follow from entry ${tail.seq}`;
  if (erasedBy === null && entryHash(said, previous) !== hash)
    return `entry ${entry.seq} was changed after it was written`;
  return { seq: entry.seq, hash };
}
