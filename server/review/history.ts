import { asc, eq } from "drizzle-orm";
import { alias } from "drizzle-orm/mysql-core";
import type { Queryable } from "../db/client.ts";
import { decision, person, round, seat, version } from "../db/schema/index.ts";

const absent = alias(person, "absent");

/** Every round of a piece the caller may see, oldest first: who was asked, what each said, of which version. */
export async function roundsOf(db: Queryable, pieceId: string) {
  const [rounds, seats, decisions] = await Promise.all([
    db
      .select({
        id: round.id,
        number: round.number,
        stateKey: round.stateKey,
        rule: round.rule,
        count: round.count,
        openedAt: round.openedAt,
        dueAt: round.dueAt,
        closedAt: round.closedAt,
        outcome: round.outcome,
        note: round.note,
        sender: person.name,
      })
      .from(round)
      .leftJoin(person, eq(person.id, round.senderId))
      .where(eq(round.pieceId, pieceId))
      .orderBy(asc(round.number)),
    db
      .select({
        id: seat.id,
        roundId: seat.roundId,
        person: person.name,
        for: absent.name,
        status: seat.status,
        voidReason: seat.voidReason,
      })
      .from(seat)
      .innerJoin(person, eq(person.id, seat.personId))
      .leftJoin(absent, eq(absent.id, seat.forPersonId))
      .where(eq(seat.pieceId, pieceId))
      .orderBy(asc(seat.position)),
    db
      .select({
        roundId: decision.roundId,
        seatId: decision.seatId,
        person: person.name,
        for: absent.name,
        verdict: decision.verdict,
        version: version.number,
        note: decision.note,
        at: decision.at,
        signature: decision.signature,
        signedHash: decision.signedHash,
        withdrawnAt: decision.withdrawnAt,
      })
      .from(decision)
      .innerJoin(round, eq(round.id, decision.roundId))
      .innerJoin(person, eq(person.id, decision.personId))
      .leftJoin(absent, eq(absent.id, decision.forPersonId))
      .innerJoin(version, eq(version.id, decision.versionId))
      .where(eq(round.pieceId, pieceId))
      .orderBy(asc(decision.at)),
  ]);
  return rounds.map((one) => ({
    ...one,
    seats: seats.filter(({ roundId }) => roundId === one.id),
    decisions: decisions.filter(({ roundId }) => roundId === one.id),
  }));
}

export type RoundTold = Awaited<ReturnType<typeof roundsOf>>[number];
