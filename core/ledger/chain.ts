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

/**
 * Follows a chain by one entry.
 *
 * @returns the new tail, or a sentence that says what is wrong with the entry
 */
export function follow(tail: Tail, entry: LedgerEntry & { previous: string; hash: string }): Tail | string {
  const { previous, hash, ...said } = entry;
  if (entry.seq !== tail.seq + 1) return `entry ${tail.seq + 1} is missing`;
  if (previous !== tail.hash) return `entry ${entry.seq} does not follow from entry ${tail.seq}`;
  if (entryHash(said, previous) !== hash) return `entry ${entry.seq} was changed after it was written`;
  return { seq: entry.seq, hash };
}
