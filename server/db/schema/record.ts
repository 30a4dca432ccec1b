import { bigint, index, int, mysqlTable, unique, varchar } from "drizzle-orm/mysql-core";
import type { Lookout } from "#core/release/findings.ts";
import type { Hold } from "#core/release/preflight.ts";
import type { Windows } from "#core/release/window.ts";
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
    channel: token("channel", { length: 20 }).$type<ChannelKey>().notNull().default("site"),
    /** When it leaves: what was wished for, or what its channel's windows make of that. */
    at: instant("at").notNull(),
    wishedAt: instant("wished_at"),
    /** Why it leaves outside the windows; null where it keeps to them. */
    outside: varchar("outside", { length: 500 }),
    /** When readers see it no more, by itself; null for no end. */
    endsAt: instant("ends_at"),
    /** What it corrects, for readers. */
    correction: varchar("correction", { length: 500 }),
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

/** A channel's key; `site` is the reader site, which there always is. */
export type ChannelKey = string;

/** Where releases go: when it lets them leave, and what the team looks out for there. */
export const channel = mysqlTable("channel", {
  key: token("key", { length: 20 }).$type<ChannelKey>().primaryKey(),
  name: varchar("name", { length: 80 }).notNull(),
  /** Null: always open. */
  windows: json("windows").$type<Windows | null>(),
  lookout: json("lookout").$type<Lookout | null>(),
  /** The hash of the secret in its calendar's address, and the secret enciphered; null where it is given out at none. */
  calendarId: token("calendar_id", { length: 64 }).unique(),
  calendarSecret: varchar("calendar_secret", { length: 200 }),
  revision: int("revision").notNull().default(1),
});

/** What readers of a channel see of a piece: one version, from an instant until another. */
export const released = mysqlTable(
  "released",
  {
    id: uuid("id").primaryKey(),
    pieceId: uuid("piece_id")
      .notNull()
      .references(() => piece.id),
    channel: token("channel", { length: 20 }).$type<ChannelKey>().notNull(),
    versionId: uuid("version_id")
      .notNull()
      .references(() => version.id),
    from: instant("from_at").notNull(),
    /** When it was replaced or withdrawn; null while readers see it. */
    until: instant("until_at"),
    /** When it ends by itself; null for never. */
    endsAt: instant("ends_at"),
    /** What readers find in its place since it was withdrawn; null where another version took it. */
    notice: varchar("notice", { length: 500 }),
    /** The piece they are led to instead. */
    insteadId: uuid("instead_id").references(() => piece.id),
    /** What was corrected by it, for readers; null where it is no correction, or one not spoken of. */
    correction: varchar("correction", { length: 500 }),
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
