import { and, eq, gt, gte, inArray, isNotNull, or } from "drizzle-orm";
import { type How, howTold, ROUTES, type Route, type Topic } from "#core/telling/choices.ts";
import { leavesAt, type Reading } from "#core/telling/leaving.ts";
import { localDate } from "#core/time/local.ts";
import { groupBy } from "#core/words/group.ts";
import type { Transaction } from "../db/client.ts";
import { insertAll } from "../db/insert.ts";
import { newId } from "../db/schema/columns.ts";
import { absence, type notice, outbox, person, piece, workflowRevision } from "../db/schema/index.ts";
import type { Places } from "../sections/places.ts";
import { scheduleAll } from "../tasks/schedule.ts";

/** Notices of many pieces at once wait so long for one another, in milliseconds. */
const BATCH = 60_000;
/** What is told of an urgent piece at once, whatever else goes once a day. */
const PRESSING: readonly Topic[] = ["decide", "mend", "work"];

/** What follows a message about the same piece within so long goes along with the next one, in milliseconds. */
const BURST = 5 * 60_000;

/** A notice before it is kept. */
export type Told = typeof notice.$inferInsert & { id: string; topic: Topic };

/** What of some pieces says how they are told of. */
export type Pieces = ReadonlyMap<
  string,
  Pick<typeof piece.$inferSelect, "urgency" | "sectionId" | "private" | "restricted"> & { workflowId: string }
>;

/** How some pieces are told of. */
export async function piecesOf(
  tx: Transaction,
  rows: readonly { pieceId?: string | null | undefined }[],
): Promise<Pieces> {
  const ids = [...new Set(rows.map((row) => row.pieceId))].filter((id) => id != null);
  if (ids.length === 0) return new Map();
  const found = await tx
    .select({
      id: piece.id,
      urgency: piece.urgency,
      sectionId: piece.sectionId,
      private: piece.private,
      restricted: piece.restricted,
      workflowId: workflowRevision.workflowId,
    })
    .from(piece)
    .innerJoin(workflowRevision, eq(workflowRevision.id, piece.workflowRevisionId))
    .where(inArray(piece.id, ids));
  return new Map(found.map((row) => [row.id, row]));
}

export type Message = typeof outbox.$inferInsert & { id: string; dueAt: number };

/** Which column of a notice names the message it goes along with. */
const ALONG = { mail: "mailId", chat: "chatId" } as const;

/**
 * Finds for each notice the messages it goes along with: one that waits already, or a new one. The notices
 * are marked with them.
 *
 * @returns the new messages
 */
export async function route(
  tx: Transaction,
  { now, batch }: { now: number; batch?: string | undefined },
  places: Places,
  pieces: Pieces,
  rows: readonly Told[],
): Promise<Message[]> {
  const ids = [...new Set(rows.map((row) => row.personId))];
  const [readers, known] = [await readersOf(tx, places, ids, now), await messagesOf(tx, ids, now)];
  const made: Message[] = [];
  for (const way of ROUTES)
    for (const row of rows) {
      const reader = readers.get(row.personId);
      const wished = reader?.how(row.topic, way) ?? "never";
      const urgent = PRESSING.includes(row.topic) && pieces.get(row.pieceId ?? "")?.urgency === "urgent";
      const how = wished === "digest" && urgent ? "at-once" : wished;
      if (!reader || how === "never") continue;
      const about = { digest: how === "digest", batchId: batch ?? null, pieceId: row.pieceId ?? null };
      const key = keyOf({ ...about, personId: row.personId, route: way });
      const open = known.waiting.get(key);
      if (open) {
        row[ALONG[way]] = open;
        continue;
      }
      const soon = leavesAt(how, reader.reading, batch ? now + BATCH : now);
      const last = known.sent.get(key);
      const message: Message = {
        id: newId(),
        route: way,
        recipient: way === "mail" ? reader.email : "",
        personId: row.personId,
        ...(how === "digest"
          ? { digest: true }
          : { batchId: about.batchId, pieceId: about.batchId ? null : about.pieceId }),
        status: "waiting",
        dueAt: how === "at-once" && last !== undefined ? Math.max(soon, last + BURST) : soon,
      };
      row[ALONG[way]] = message.id;
      // What is about no piece stands alone.
      if (about.digest || batch || row.pieceId) known.waiting.set(key, message.id);
      made.push(message);
    }
  return made;
}

/** What messages have in common that one may go along with the other: reader, route, and what they are about. */
const keyOf = (message: {
  personId: string | null;
  route: Route;
  digest: boolean;
  batchId: string | null;
  pieceId: string | null;
}) => `${message.personId} ${message.route} ${message.digest ? "digest" : (message.batchId ?? message.pieceId)}`;

/** Somebody who is told: where, when, and how each topic by each route. */
interface Reader {
  email: string;
  reading: Reading;
  how(topic: Topic, way: Route): How;
}

async function readersOf(
  tx: Transaction,
  places: Places,
  ids: readonly string[],
  now: number,
): Promise<Map<string, Reader>> {
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
    const key = keyOf(row);
    if (row.status === "sent") sent.set(key, Math.max(sent.get(key) ?? 0, row.sentAt ?? 0));
    else if (row.digest || row.batchId || row.pieceId) waiting.set(key, row.id);
  }
  return { waiting, sent };
}

/** Lays messages in the outbox. */
export async function send(tx: Transaction, messages: readonly Message[]): Promise<void> {
  await insertAll(tx, outbox, messages);
  await scheduleAll(
    tx,
    messages.map(({ id, dueAt }) => ({ kind: "mail", subject: id, dueAt })),
  );
}
