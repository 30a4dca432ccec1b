import { inArray } from "drizzle-orm";
import type { Transaction } from "../db/client.ts";
import { insertAll } from "../db/insert.ts";
import { newId } from "../db/schema/columns.ts";
import { notice, outbox, person } from "../db/schema/index.ts";

/** What notices there are; of several about one write a person gets the first of these. */
const KINDS = [
  "review",
  "held",
  "returned",
  "approved",
  "released",
  "assigned",
  "text-changed",
  "text-taken",
  "comment",
  "workflow",
  "access",
  "arrived",
] as const;
export type NoticeKind = (typeof KINDS)[number];

/** Something to tell people. The headline stands alone; the note is somebody's words. */
export interface Told {
  to: readonly string[];
  kind: NoticeKind;
  headline: string;
  note?: string;
  /** The piece it is about; null for what is about the publication. */
  piece: { id: string; slug: string; title: string } | null;
  /** Further plain lines for the mail: due date, the piece's way. */
  lines?: readonly string[];
}

/** Mail to one address that is no notice. */
export interface Letter {
  to: string;
  subject: string;
  body: string;
}

/** Lays letters in the outbox. */
export function postLetters(tx: Transaction, now: number, letters: readonly Letter[]): Promise<void> {
  const waiting = letters.map(({ to, subject, body }) => ({
    id: newId(),
    noticeId: null,
    recipient: to,
    subject,
    body,
    status: "waiting" as const,
    nextAt: now,
  }));
  return insertAll(tx, outbox, waiting);
}

/**
 * Lays notices in the app and mail in the outbox, inside the write they speak of. A write tells a
 * person one thing, the one that asks most of them, and nobody what they did themselves.
 */
export async function deliver(
  tx: Transaction,
  act: { personId: string | null; now: number; baseUrl: string },
  seq: number,
  told: readonly Told[],
): Promise<void> {
  const met = new Set<string>();
  const pressing = told.toSorted((a, b) => KINDS.indexOf(a.kind) - KINDS.indexOf(b.kind));
  const rows = pressing.flatMap((item) =>
    item.to
      .filter((personId) => personId !== act.personId && !met.has(personId) && met.add(personId))
      .map((personId) => ({ item, id: newId(), personId })),
  );
  if (rows.length === 0) return;
  await insertAll(
    tx,
    notice,
    rows.map(({ item, id, personId }) => ({
      id,
      personId,
      pieceId: item.piece?.id ?? null,
      seq,
      kind: item.kind,
      headline: item.headline,
      note: item.note ?? "",
      at: act.now,
    })),
  );
  const people = await tx
    .select({ id: person.id, email: person.email, wanted: person.mailNotices, active: person.active })
    .from(person)
    .where(inArray(person.id, [...new Set(rows.map((row) => row.personId))]));
  const addresses = new Map(people.filter((one) => one.wanted && one.active).map((one) => [one.id, one.email]));
  const mail = rows.flatMap(({ item, id, personId }) => {
    const recipient = addresses.get(personId);
    if (!recipient) return [];
    return [
      {
        id: newId(),
        noticeId: id,
        recipient,
        subject: item.headline,
        body: body(item, act.baseUrl),
        status: "waiting" as const,
        nextAt: act.now,
      },
    ];
  });
  await insertAll(tx, outbox, mail);
}

function body(item: Told, baseUrl: string): string {
  const note = item.note?.trim() ? [`"${item.note.trim()}"`, ""] : [];
  const lines = item.lines?.length ? [...item.lines, ""] : [];
  return [
    `${item.headline}.`,
    "",
    ...note,
    ...lines,
    `${baseUrl}${item.piece ? `/pieces/${item.piece.slug}` : item.kind === "access" ? "/me" : "/workflows"}`,
    "",
  ].join("\n");
}
