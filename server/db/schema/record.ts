import { bigint, boolean, index, int, mysqlTable, text, unique, varchar } from "drizzle-orm/mysql-core";
import type { Hold } from "#core/release/preflight.ts";
import type { Route } from "#core/telling/choices.ts";
import { instant, json, token, uuid } from "./columns.ts";
import { person } from "./people.ts";
import { piece, version } from "./pieces.ts";

/** `proposed` waits for somebody who may release; what is `held` says why. */
export type ReleaseStatus = "proposed" | "planned" | "held" | "done" | "cancelled";

/** One planned moment at which one version of one piece reaches readers. */
export const release = mysqlTable(
  "planned_release",
  {
    id: uuid("id").primaryKey(),
    pieceId: uuid("piece_id")
      .notNull()
      .references(() => piece.id),
    versionId: uuid("version_id")
      .notNull()
      .references(() => version.id),
    at: instant("at").notNull(),
    status: token("status", { length: 10 }).$type<ReleaseStatus>().notNull(),
    /** What stands in its way as far as is known: it will be held by that, or is. */
    holds: json("holds").$type<Hold[]>().notNull(),
    plannedBy: uuid("planned_by")
      .notNull()
      .references(() => person.id),
    /** Who said that it may leave: the planner, or who confirmed what was proposed. */
    confirmedBy: uuid("confirmed_by").references(() => person.id),
    doneAt: instant("done_at"),
    revision: int("revision").notNull().default(1),
  },
  (table) => [index("release_due").on(table.status, table.at), index("release_piece").on(table.pieceId, table.status)],
);

/** Where releases go; one for now. */
export type Channel = "site";

/** What readers of a channel see of a piece: one version, from an instant until another. */
export const released = mysqlTable(
  "released",
  {
    id: uuid("id").primaryKey(),
    pieceId: uuid("piece_id")
      .notNull()
      .references(() => piece.id),
    channel: token("channel", { length: 20 }).$type<Channel>().notNull(),
    versionId: uuid("version_id")
      .notNull()
      .references(() => version.id),
    from: instant("from_at").notNull(),
    /** When it was replaced or withdrawn; null while readers see it. */
    until: instant("until_at"),
    /** What readers find in its place since it was withdrawn; null where another version took it. */
    notice: varchar("notice", { length: 500 }),
  },
  (table) => [
    index("released_piece").on(table.pieceId, table.channel, table.until),
    index("released_channel").on(table.channel, table.until, table.from),
  ],
);

/** Something that has to happen later. One row for each kind and subject; gone once it is done. */
export const task = mysqlTable(
  "task",
  {
    id: uuid("id").primaryKey(),
    kind: token("kind", { length: 20 }).notNull(),
    /** What it is about: the id of a release, a mail, a person. */
    subject: token("subject", { length: 80 }).notNull(),
    dueAt: instant("due_at").notNull(),
    attempts: int("attempts").notNull().default(0),
    leaseOwner: token("lease_owner", { length: 40 }),
    leaseUntil: instant("lease_until"),
  },
  (table) => [unique("task_subject").on(table.kind, table.subject), index("task_due").on(table.kind, table.dueAt)],
);

/** The append-only record. `previous` and `hash` chain it; see core/ledger. */
export const ledger = mysqlTable(
  "ledger",
  {
    seq: bigint("seq", { mode: "number" }).primaryKey(),
    at: instant("at").notNull(),
    actorId: uuid("actor_id"),
    forId: uuid("for_id"),
    action: token("action", { length: 40 }).notNull(),
    pieceId: uuid("piece_id"),
    subjectId: uuid("subject_id"),
    before: json("before_value"),
    after: json("after_value"),
    origin: varchar("origin", { length: 80 }).notNull(),
    requestId: token("request_id", { length: 64 }).notNull(),
    previous: token("previous", { length: 64 }).notNull(),
    hash: token("hash", { length: 64 }).notNull(),
    /** The entry by which what this one said was erased; that one holds the hash it had. */
    erasedBy: bigint("erased_by", { mode: "number" }),
  },
  (table) => [
    index("ledger_piece").on(table.pieceId, table.seq),
    index("ledger_actor").on(table.actorId, table.seq),
    index("ledger_action").on(table.action, table.seq),
    index("ledger_subject").on(table.subjectId, table.seq),
  ],
);

/** One row: where the chain stands. Its lock puts the commits in order. */
export const ledgerTail = mysqlTable("ledger_tail", {
  id: int("id").primaryKey(),
  seq: bigint("seq", { mode: "number" }).notNull(),
  hash: token("hash", { length: 64 }).notNull(),
});

/** What becomes of a message: `dropped` once nothing it would say matters any more. */
export type OutboxStatus = "waiting" | "sent" | "given-up" | "dropped";

/** A message that waits to leave by one route: a letter, or notices of one person. */
export const outbox = mysqlTable(
  "outbox",
  {
    id: uuid("id").primaryKey(),
    route: token("route", { length: 8 }).$type<Route>().notNull().default("mail"),
    /** An address; for a chat the person's own, which is not kept twice. */
    recipient: varchar("recipient", { length: 200 }).notNull(),
    /** Whose notices it tells; null for letters: invitations and links to a new password. */
    personId: uuid("person_id").references(() => person.id),
    /** The piece its notices are about; null for letters, and where they are about several. */
    pieceId: uuid("piece_id"),
    /** Whether it is one of the daily ones. */
    digest: boolean("digest").notNull().default(false),
    /** The words of a letter; a notice's are made when it leaves. */
    subject: varchar("subject", { length: 600 }),
    body: text("body"),
    status: token("status", { length: 10 }).$type<OutboxStatus>().notNull(),
    attempts: int("attempts").notNull().default(0),
    lastError: varchar("last_error", { length: 300 }),
    sentAt: instant("sent_at"),
  },
  (table) => [
    index("outbox_status").on(table.status),
    index("outbox_person").on(table.personId, table.status, table.route),
  ],
);

/** Something a person should know. */
export const notice = mysqlTable(
  "notice",
  {
    id: uuid("id").primaryKey(),
    personId: uuid("person_id")
      .notNull()
      .references(() => person.id),
    pieceId: uuid("piece_id").references(() => piece.id),
    seq: bigint("seq", { mode: "number" }).notNull(),
    /** What of its event it tells: see core/events. */
    part: token("part", { length: 20 }).notNull(),
    /** What this person's notice says beyond the event. */
    params: json("params").$type<Record<string, unknown>>(),
    /** The words of a notice from before events were kept. */
    said: text("said"),
    at: instant("at").notNull(),
    readAt: instant("read_at"),
    /** The messages it goes along with. */
    mailId: uuid("mail_id").references(() => outbox.id),
    chatId: uuid("chat_id").references(() => outbox.id),
  },
  (table) => [
    index("notice_person").on(table.personId, table.readAt, table.at),
    unique("notice_once").on(table.seq, table.personId, table.part),
  ],
);

/** What the mail stand-in received; one row per Message-ID, as a mailbox keeps it. */
export const standInMail = mysqlTable("standin_mail", {
  messageId: token("message_id", { length: 200 }).primaryKey(),
  at: instant("at").notNull(),
  sender: varchar("sender", { length: 200 }).notNull(),
  recipient: varchar("recipient", { length: 200 }).notNull(),
  subject: varchar("subject", { length: 600 }).notNull(),
  body: text("body").notNull(),
});

/** What the chat stand-in received, as it was sent. */
export const standInChat = mysqlTable("standin_chat", {
  id: uuid("id").primaryKey(),
  at: instant("at").notNull(),
  body: text("body").notNull(),
});
