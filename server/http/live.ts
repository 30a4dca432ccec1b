import { and, asc, eq, gt, inArray, isNotNull, isNull, sql } from "drizzle-orm";
import { union } from "drizzle-orm/mysql-core";
import type { Response } from "express";
import type { Logger } from "pino";
import type { Database } from "../db/client.ts";
import { assignment, ledger, ledgerTail, look, notice, piece, round, seat } from "../db/schema/index.ts";

const POLL = 700;
const HEARTBEAT = 25_000;
const MOST = 500;

/** Streams to the browsers of one node. */
export interface Live {
  /**
   * Keeps a response open and tells it when something that concerns the person has happened.
   *
   * @param everything for who may see all of it, and looks at counts of all pieces
   */
  follow(personId: string, everything: boolean, response: Response): void;
  stop(): void;
}

/**
 * Follows the ledger by its sequence, one poll a node however many look on, and tells exactly the
 * people a change concerns. An event carries the sequence number and nothing of the change itself:
 * the browser asks again, as itself, for what it shows.
 */
export function startLive(db: Database, log: Logger): Live {
  const followers = new Map<Response, { personId: string; everything: boolean }>();
  let seen: number | null = null;
  const poll = async () => {
    if (followers.size === 0) {
      seen = null;
      return;
    }
    try {
      seen = await pass(seen);
    } catch (error) {
      log.debug({ err: error }, "the live poll failed and is tried again");
    }
  };
  const pass = async (from: number | null) => {
    const [tail] = await db.select({ seq: ledgerTail.seq }).from(ledgerTail).where(eq(ledgerTail.id, 1));
    const end = tail?.seq ?? 0;
    if (from === null || from === end) return end;
    const concerned = await concernedBy(db, from);
    for (const [response, { personId, everything }] of followers)
      if (everything || concerned.has(personId)) response.write(`id: ${end}\nevent: changed\ndata: ${end}\n\n`);
    return end;
  };
  const timers = [
    setInterval(poll, POLL),
    setInterval(() => {
      for (const response of followers.keys()) response.write(": still here\n\n");
    }, HEARTBEAT),
  ];
  return {
    follow(personId, everything, response) {
      response.writeHead(200, {
        "Content-Type": "text/event-stream",
        "Cache-Control": "no-store",
        "X-Accel-Buffering": "no",
      });
      response.write("retry: 2000\n\n");
      followers.set(response, { personId, everything });
      response.on("close", () => followers.delete(response));
    },
    stop() {
      timers.forEach(clearInterval);
      for (const response of followers.keys()) response.end();
    },
  };
}

/** Everyone with a part in the pieces touched since an entry: authors, seats, assignments, those told. */
async function concernedBy(db: Database, from: number): Promise<Set<string>> {
  const touched = await db
    .selectDistinct({ id: ledger.pieceId })
    .from(ledger)
    .where(and(gt(ledger.seq, from), isNotNull(ledger.pieceId)))
    .orderBy(asc(ledger.pieceId))
    .limit(MOST);
  const ids = touched.map((row) => row.id as string);
  if (ids.length === 0) return new Set();
  const people = await union(
    db.select({ id: piece.authorId }).from(piece).where(inArray(piece.id, ids)),
    db
      .select({ id: seat.personId })
      .from(seat)
      .innerJoin(round, and(eq(round.id, seat.roundId), isNull(round.closedAt)))
      .where(inArray(seat.pieceId, ids)),
    db.select({ id: assignment.personId }).from(assignment).where(inArray(assignment.pieceId, ids)),
    db.select({ id: notice.personId }).from(notice).where(gt(notice.seq, from)),
    // Whoever came to read it lately reads on.
    db
      .select({ id: look.personId })
      .from(look)
      .where(
        and(inArray(look.pieceId, ids), sql`${look.at} > (SELECT MAX(${ledger.at}) FROM ${ledger}) - INTERVAL 2 HOUR`),
      ),
    db
      .select({ id: seat.personId })
      .from(seat)
      .where(and(inArray(seat.pieceId, ids), eq(seat.status, "closed"))),
  );
  return new Set(people.map((row) => row.id));
}
