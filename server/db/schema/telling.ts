import { bigint, boolean, index, int, mysqlTable, primaryKey, text, unique, varchar } from "drizzle-orm/mysql-core";
import type { PieceTopic, Route } from "#core/telling/choices.ts";
import type { Worded } from "#core/telling/wording.ts";
import { instant, json, token, uuid } from "./columns.ts";
import { person } from "./people.ts";
import { piece } from "./pieces.ts";

/** Words a team chose for a notice: of one event, for some of those it concerns, in one place. */
export const wording = mysqlTable(
  "wording",
  {
    event: token("event", { length: 40 }).notNull(),
    part: token("part", { length: 20 }).notNull(),
    place: token("place", { length: 8 }).$type<Worded>().notNull(),
    headline: varchar("headline", { length: 200 }).notNull(),
    body: text("body").notNull(),
  },
  (table) => [primaryKey({ columns: [table.event, table.part, table.place] })],
);

/** A channel of many readers that hears what happens in a section and below it, or on a workflow. */
export const chatChannel = mysqlTable("chat_channel", {
  id: uuid("id").primaryKey(),
  scope: token("scope", { length: 10 }).$type<"section" | "workflow">().notNull(),
  scopeId: uuid("scope_id").notNull(),
  /** Its incoming webhook, enciphered: who knows it may write there. */
  address: varchar("address", { length: 1000 }).notNull(),
  topics: json("topics").$type<PieceTopic[]>().notNull(),
});

/** What a channel is told: an entry of the ledger, along with a message. */
export const chatLine = mysqlTable(
  "chat_line",
  {
    messageId: uuid("message_id")
      .notNull()
      .references(() => outbox.id),
    seq: bigint("seq", { mode: "number" }).notNull(),
    part: token("part", { length: 20 }).notNull(),
  },
  (table) => [primaryKey({ columns: [table.messageId, table.seq, table.part] })],
);

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
    /** The bundle of pieces its notices came of; null where they came one by one. */
    batchId: uuid("batch_id"),
    /** The channel of a section or a workflow it goes to; null for a person's. */
    channelId: uuid("channel_id").references(() => chatChannel.id),
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
    index("outbox_channel").on(table.channelId, table.status),
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
    /** The bundle of pieces it came of. */
    batchId: uuid("batch_id"),
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

/** What the stand-in for an outside service was called with, as it was sent. */
export const standInCall = mysqlTable("standin_call", {
  id: uuid("id").primaryKey(),
  at: instant("at").notNull(),
  /** What it was signed with, and when, as its headers say. */
  signature: varchar("signature", { length: 200 }).notNull(),
  timestamp: varchar("timestamp", { length: 40 }).notNull(),
  body: text("body").notNull(),
});
