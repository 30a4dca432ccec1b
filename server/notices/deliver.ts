import { inArray } from "drizzle-orm";
import { ASKS, asks, type EventKind, type Happening } from "#core/events/event.ts";
import type { Transaction } from "../db/client.ts";
import { insertAll } from "../db/insert.ts";
import { newId } from "../db/schema/columns.ts";
import { notice, outbox, person } from "../db/schema/index.ts";
import { scheduleAll } from "../tasks/schedule.ts";

/** Mail to one address that is no notice. */
export interface Letter {
  to: string;
  subject: string;
  body: string;
}

/** Lays letters in the outbox. */
export async function postLetters(tx: Transaction, now: number, letters: readonly Letter[]): Promise<void> {
  const waiting = letters.map(({ to, subject, body }) => ({
    id: newId(),
    noticeId: null,
    recipient: to,
    subject,
    body,
    status: "waiting" as const,
  }));
  await send(tx, now, waiting);
}

/**
 * Lays notices in the app and mail in the outbox, inside the write they speak of. Each part of a write
 * tells a person one thing, the one that asks most of them, and nobody what they did themselves.
 *
 * @param first the number of the first happening on the ledger; the others follow it
 * @param parts what happened, in the order of the ledger
 */
export async function deliver(
  tx: Transaction,
  act: { personId: string | null; now: number },
  first: number,
  parts: readonly (readonly Happening[])[],
): Promise<void> {
  let seq = first;
  const rows = parts.flatMap((happenings) => {
    const met = new Set<string>(act.personId ? [act.personId] : []);
    const told = happenings.flatMap(({ kind, payload, pieceId, told: tells }) => {
      const numbered = { pieceId, seq: seq++ };
      return tells.map((one) => ({ ...one, ...numbered, weight: weightOf(kind, one.part, payload) }));
    });
    return told
      .toSorted((a, b) => a.weight - b.weight)
      .flatMap(({ to, params, pieceId, seq, part }) =>
        to
          .filter((personId) => !met.has(personId) && met.add(personId))
          .map((personId) => ({
            id: newId(),
            personId,
            pieceId: (params?.pieceId as string | undefined) ?? pieceId ?? null,
            seq,
            part,
            params,
            at: act.now,
          })),
      );
  });
  if (rows.length === 0) return;
  await insertAll(tx, notice, rows);
  const people = await tx
    .select({ id: person.id, email: person.email, wanted: person.mailNotices, active: person.active })
    .from(person)
    .where(inArray(person.id, [...new Set(rows.map((row) => row.personId))]));
  const addresses = new Map(people.filter((one) => one.wanted && one.active).map((one) => [one.id, one.email]));
  const mail = rows.flatMap(({ id, personId }) => {
    const recipient = addresses.get(personId);
    return recipient ? [{ id: newId(), noticeId: id, recipient, status: "waiting" as const }] : [];
  });
  await send(tx, act.now, mail);
}

async function send(tx: Transaction, now: number, mail: (typeof outbox.$inferInsert & { id: string })[]) {
  await insertAll(tx, outbox, mail);
  await scheduleAll(
    tx,
    mail.map(({ id }) => ({ kind: "mail", subject: id, dueAt: now })),
  );
}

function weightOf(kind: EventKind, part: string, payload: unknown): number {
  const telling = kind.tells[part];
  if (!telling) throw new Error(`${kind.name} tells no ${part}`);
  return ASKS.indexOf(asks(telling, payload as never));
}
