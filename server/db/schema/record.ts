import { bigint, index, int, mysqlTable, text, unique, varchar } from "drizzle-orm/mysql-core";
import type { Hold } from "#core/release/preflight.ts";
import { instant, json, token, uuid } from "./columns.ts";
import { person } from "./people.ts";
import { piece, version } from "./pieces.ts";

export type ReleaseStatus = "planned" | "held" | "done" | "cancelled";

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
    holds: json("holds").$type<Hold[]>().notNull(),
    plannedBy: uuid("planned_by")
      .notNull()
      .references(() => person.id),
    doneAt: instant("done_at"),
    leaseOwner: token("lease_owner", { length: 40 }),
    leaseUntil: instant("lease_until"),
    revision: int("revision").notNull().default(1),
  },
  (table) => [index("release_due").on(table.status, table.at), index("release_piece").on(table.pieceId, table.status)],
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
    kind: token("kind", { length: 30 }).notNull(),
    headline: varchar("headline", { length: 600 }).notNull(),
    note: text("note").notNull(),
    at: instant("at").notNull(),
    readAt: instant("read_at"),
  },
  (table) => [
    index("notice_person").on(table.personId, table.readAt, table.at),
    unique("notice_once").on(table.seq, table.personId, table.kind),
  ],
);

export type OutboxStatus = "waiting" | "sent" | "given-up";

/** Mail that waits to leave. */
export const outbox = mysqlTable(
  "outbox",
  {
    id: uuid("id").primaryKey(),
    /** Null for letters that are no notice: invitations and links to a new password. */
    noticeId: uuid("notice_id")
      .references(() => notice.id)
      .unique(),
    recipient: varchar("recipient", { length: 200 }).notNull(),
    subject: varchar("subject", { length: 600 }).notNull(),
    body: text("body").notNull(),
    status: token("status", { length: 10 }).$type<OutboxStatus>().notNull(),
    attempts: int("attempts").notNull().default(0),
    nextAt: instant("next_at").notNull(),
    lastError: varchar("last_error", { length: 300 }),
    sentAt: instant("sent_at"),
    leaseOwner: token("lease_owner", { length: 40 }),
    leaseUntil: instant("lease_until"),
  },
  (table) => [index("outbox_due").on(table.status, table.nextAt)],
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
