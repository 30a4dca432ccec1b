import { and, eq, gt, gte, inArray, isNotNull, or } from "drizzle-orm";
import { ASKS, asks, type EventKind, type Happening } from "#core/events/event.ts";
import { topicOf } from "#core/events/topic.ts";
import { type How, howTold, ROUTES, type Route, type Topic } from "#core/telling/choices.ts";
import { leavesAt, type Reading } from "#core/telling/leaving.ts";
import { localDate } from "#core/time/local.ts";
import { groupBy } from "#core/words/group.ts";
import type { Transaction } from "../db/client.ts";
import { insertAll } from "../db/insert.ts";
import { newId } from "../db/schema/columns.ts";
import { absence, notice, outbox, person } from "../db/schema/index.ts";
import { loadPlaces } from "../sections/places.ts";
import { scheduleAll } from "../tasks/schedule.ts";

/** Mail to one address that is no notice. */
export interface Letter {
  to: string;
  subject: string;
  body: string;
}

/** What follows a message about the same piece within so long goes along with the next one, in milliseconds. */
const BURST = 5 * 60_000;

/** Lays letters in the outbox. */
export async function postLetters(tx: Transaction, now: number, letters: readonly Letter[]): Promise<void> {
  const waiting = letters.map(({ to, subject, body }) => ({
    id: newId(),
    recipient: to,
    subject,
    body,
    status: "waiting" as const,
    dueAt: now,
  }));
  await send(tx, waiting);
}

/** A notice before it is kept. */
type Told = typeof notice.$inferInsert & { id: string; topic: Topic };

/**
 * Lays notices in the app and messages in the outbox, inside the write they speak of. Each part of a write
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
      return tells.map((one) => ({ ...one, ...numbered, asks: asksOf(kind, one.part, payload), kind }));
    });
    return told
      .toSorted((a, b) => ASKS.indexOf(a.asks) - ASKS.indexOf(b.asks))
      .flatMap(({ to, params, pieceId, seq, part, asks, kind }) =>
        to
          .filter((personId) => !met.has(personId) && met.add(personId))
          .map(
            (personId): Told => ({
              id: newId(),
              personId,
              pieceId: (params?.pieceId as string | undefined) ?? pieceId ?? null,
              seq,
              part,
              params,
              at: act.now,
              topic: topicOf(asks, kind.remark),
            }),
          ),
      );
  });
  if (rows.length === 0) return;
  const made = await route(tx, act.now, rows);
  await send(tx, made);
  await insertAll(tx, notice, rows);
}

const asksOf = (kind: EventKind, part: string, payload: unknown) => {
  const telling = kind.tells[part];
  if (!telling) throw new Error(`${kind.name} tells no ${part}`);
  return asks(telling, payload as never);
};

type Message = typeof outbox.$inferInsert & { id: string; dueAt: number };

/** Which column of a notice names the message it goes along with. */
const ALONG = { mail: "mailId", chat: "chatId" } as const;

/**
 * Finds for each notice the messages it goes along with: one that waits already, or a new one. The notices
 * are marked with them.
 *
 * @returns the new messages
 */
async function route(tx: Transaction, now: number, rows: readonly Told[]): Promise<Message[]> {
  const ids = [...new Set(rows.map((row) => row.personId))];
  const [readers, known] = [await readersOf(tx, ids, now), await messagesOf(tx, ids, now)];
  const made: Message[] = [];
  for (const way of ROUTES)
    for (const row of rows) {
      const reader = readers.get(row.personId);
      const how = reader?.how(row.topic, way) ?? "never";
      if (!reader || how === "never") continue;
      const key = how === "digest" ? `${row.personId} ${way} digest` : `${row.personId} ${way} ${row.pieceId}`;
      const open = known.waiting.get(key);
      if (open) {
        row[ALONG[way]] = open;
        continue;
      }
      const soon = leavesAt(how, reader.reading, now);
      const last = known.sent.get(key);
      const message: Message = {
        id: newId(),
        route: way,
        recipient: way === "mail" ? reader.email : "",
        personId: row.personId,
        pieceId: how === "digest" ? null : (row.pieceId ?? null),
        digest: how === "digest",
        status: "waiting",
        dueAt: how === "at-once" && last !== undefined ? Math.max(soon, last + BURST) : soon,
      };
      row[ALONG[way]] = message.id;
      // What is about no piece stands alone.
      if (how === "digest" || row.pieceId) known.waiting.set(key, message.id);
      made.push(message);
    }
  return made;
}

/** Somebody who is told: where, when, and how each topic by each route. */
interface Reader {
  email: string;
  reading: Reading;
  how(topic: Topic, way: Route): How;
}

async function readersOf(tx: Transaction, ids: readonly string[], now: number): Promise<Map<string, Reader>> {
  const places = await loadPlaces(tx);
  const today = localDate(now, places.calendar.timeZone);
  const [people, absences] = [
    await tx
      .select({
        id: person.id,
        email: person.email,
        telling: person.telling,
        chat: person.chatAddress,
        zone: person.zone,
      })
      .from(person)
      .where(and(inArray(person.id, [...ids]), eq(person.active, true), eq(person.guest, false))),
    await tx
      .select()
      .from(absence)
      .where(and(inArray(absence.personId, [...ids]), gte(absence.until, today))),
  ];
  const away = new Map(groupBy(absences, (one) => one.personId));
  return new Map(
    people.map(({ id, email, telling, chat, zone }) => [
      id,
      {
        email,
        reading: {
          choices: telling ?? places.telling,
          zone: zone ?? places.calendar.timeZone,
          away: away.get(id) ?? [],
        },
        how: (topic, way) => (way === "chat" && !chat ? "never" : howTold(topic, way, telling, places.telling)),
      },
    ]),
  );
}

/** Messages to some people that wait, and when the last about a piece left, by person, route and what they are about. */
async function messagesOf(tx: Transaction, ids: readonly string[], now: number) {
  const rows = await tx
    .select()
    .from(outbox)
    .where(
      and(
        inArray(outbox.personId, [...ids]),
        or(
          and(eq(outbox.status, "waiting"), eq(outbox.attempts, 0)),
          and(eq(outbox.status, "sent"), isNotNull(outbox.pieceId), gt(outbox.sentAt, now - BURST)),
        ),
      ),
    )
    .for("update");
  const waiting = new Map<string, string>();
  const sent = new Map<string, number>();
  for (const row of rows) {
    const key = `${row.personId} ${row.route} ${row.digest ? "digest" : row.pieceId}`;
    if (row.status === "sent") sent.set(key, Math.max(sent.get(key) ?? 0, row.sentAt ?? 0));
    else if (row.digest || row.pieceId) waiting.set(key, row.id);
  }
  return { waiting, sent };
}

async function send(tx: Transaction, messages: readonly Message[]): Promise<void> {
  await insertAll(tx, outbox, messages);
  await scheduleAll(
    tx,
    messages.map(({ id, dueAt }) => ({ kind: "mail", subject: id, dueAt })),
  );
}
