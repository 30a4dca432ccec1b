import { and, asc, eq, gt, inArray, isNotNull, isNull, like, or, sql } from "drizzle-orm";
import { union } from "drizzle-orm/mysql-core";
import type { Response } from "express";
import type { Logger } from "pino";
import type { Database } from "../db/client.ts";
import {
  assignment,
  channel,
  edition,
  editionItem,
  ledger,
  ledgerTail,
  look,
  notice,
  piece,
  round,
  seat,
  session,
} from "../db/schema/index.ts";
import { UNDER_WAY } from "../editions/open.ts";

const POLL = 700;
const HEARTBEAT = 25_000;
const MOST = 500;

/** So many streams one session has at most; the windows of a browser share theirs. */
const STREAMS = 6;

/** Who follows, and by which session. */
export interface Follower {
  personId: string;
  /** The id the session is kept under. */
  session: string;
  /** For who may see all of it, and looks at counts of all pieces. */
  everything: boolean;
}

/** Streams to the browsers of one node. */
export interface Live {
  /**
   * Keeps a response open, as long as the session lasts, and tells it when something that concerns
   * the person has happened. Of many of one session the oldest ends.
   */
  follow(follower: Follower, response: Response): void;
  stop(): void;
}

/**
 * Follows the ledger by its sequence, one poll a node however many look on, and tells exactly the
 * people a change concerns. An event carries the sequence number and nothing of the change itself:
 * the browser asks again, as itself, for what it shows.
 */
export function startLive(db: Database, log: Logger, now: () => Promise<number>): Live {
  const followers = new Map<Response, Follower>();
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
    if (from === end) return end;
    await endWithSessions();
    if (from === null) return end;
    const concerned = await concernedBy(db, from);
    for (const [response, { personId, everything }] of followers)
      if (everything || concerned.has(personId)) response.write(`id: ${end}\nevent: changed\ndata: ${end}\n\n`);
    return end;
  };
  const endWithSessions = async () => {
    const ids = [...new Set([...followers.values()].map((one) => one.session))];
    if (ids.length === 0) return;
    const goes = and(inArray(session.id, ids), gt(session.expiresAt, await now()));
    const rows = await db.select({ id: session.id }).from(session).where(goes);
    const going = new Set(rows.map((row) => row.id));
    for (const [response, follower] of followers) if (!going.has(follower.session)) response.end();
  };
  const timers = [
    setInterval(poll, POLL),
    setInterval(() => {
      for (const response of followers.keys()) response.write(": still here\n\n");
      endWithSessions().catch((error) => log.debug({ err: error }, "sessions are asked for again"));
    }, HEARTBEAT),
  ];
  return {
    follow(follower, response) {
      const others = [...followers].filter(([, one]) => one.session === follower.session);
      for (const [oldest] of others.slice(0, Math.max(0, others.length - STREAMS + 1))) oldest.end();
      response.writeHead(200, {
        "Content-Type": "text/event-stream",
        "Cache-Control": "no-store",
        "X-Accel-Buffering": "no",
      });
      response.write("retry: 2000\n\n");
      followers.set(response, follower);
      // From now on what happens is told, not from the next poll on.
      if (seen === null) void poll();
      response.on("close", () => followers.delete(response));
    },
    stop() {
      timers.forEach(clearInterval);
      for (const response of followers.keys()) response.end();
    },
  };
}

/** Everyone with a part in the pieces touched since an entry: authors, seats, assignments, those told; and in the editions. */
async function concernedBy(db: Database, from: number): Promise<Set<string>> {
  const touched = await db
    .selectDistinct({ id: ledger.pieceId })
    .from(ledger)
    .where(and(gt(ledger.seq, from), isNotNull(ledger.pieceId)))
    .orderBy(asc(ledger.pieceId))
    .limit(MOST);
  const ids = touched.map((row) => row.id as string);
  const editors = await editorsOf(db, from, ids);
  if (ids.length === 0) return new Set(editors);
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
  return new Set([...people.map((row) => row.id), ...editors]);
}

/** Who signs the editions touched since an entry, or holding a piece that was, and who put something in. */
async function editorsOf(db: Database, from: number, pieceIds: readonly string[]): Promise<string[]> {
  const touched = await db
    .selectDistinct({ id: ledger.subjectId })
    .from(ledger)
    .where(and(gt(ledger.seq, from), like(ledger.action, "edition.%")))
    .limit(MOST);
  const ids = touched.flatMap((row) => row.id ?? []);
  if (ids.length + pieceIds.length === 0) return [];
  const rows = await db
    .selectDistinct({ people: channel.people, by: editionItem.addedBy })
    .from(edition)
    .innerJoin(channel, eq(channel.key, edition.channel))
    .leftJoin(editionItem, eq(editionItem.editionId, edition.id))
    .where(
      or(
        inArray(edition.id, ids),
        and(
          inArray(edition.status, [...UNDER_WAY]),
          inArray(
            edition.id,
            db
              .select({ id: editionItem.editionId })
              .from(editionItem)
              .where(inArray(editionItem.pieceId, [...pieceIds])),
          ),
        ),
      ),
    )
    .limit(MOST);
  return rows.flatMap(({ people, by }) => [...(people ?? []), ...(by === null ? [] : [by])]);
}
