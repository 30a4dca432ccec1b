import { index, int, mysqlTable, primaryKey, unique, varchar } from "drizzle-orm/mysql-core";
import type { Usual } from "#core/release/channel.ts";
import type { EditionPlan, Part } from "#core/release/edition.ts";
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
  /** Who lets anything out through it and signs its editions, by id; empty: whoever may release the piece. */
  people: json("people").$type<string[] | null>(),
  /** How it gathers editions; null where pieces leave through it one by one. */
  editions: json("editions").$type<EditionPlan | null>(),
  /** What holds of what leaves through it one by one, where nothing else is said. */
  usual: json("usual").$type<Usual | null>(),
  /** The number its next edition gets. */
  nextNumber: int("next_number").notNull().default(1),
  position: int("position").notNull().default(0),
  /** Nothing is planned through it any more; what went out stays on record. */
  retiredAt: instant("retired_at"),
  /** The hash of the secret in its calendar's address, and the secret enciphered; null where it is given out at none. */
  calendarId: token("calendar_id", { length: 64 }).unique(),
  calendarSecret: varchar("calendar_secret", { length: 200 }),
  revision: int("revision").notNull().default(1),
});

/** `gathering` until it is signed by all who sign; what is `held` says why. */
export type EditionStatus = "gathering" | "signed" | "held" | "released" | "dropped";

/** Why an edition cannot leave: of the whole, or of one of its pieces. */
export interface EditionHold {
  pieceId: string | null;
  holds: Hold[];
}

/** A channel's dated collection of pieces, which leaves as a whole. */
export const edition = mysqlTable(
  "edition",
  {
    id: uuid("id").primaryKey(),
    channel: token("channel", { length: 20 })
      .$type<ChannelKey>()
      .notNull()
      .references(() => channel.key),
    number: int("number").notNull(),
    /** The date of the rhythm it was made for; null where somebody made it by hand. */
    madeFor: instant("made_for"),
    at: instant("at").notNull(),
    /** After it nothing enters without a reason. */
    closesAt: instant("closes_at").notNull(),
    status: token("status", { length: 10 }).$type<EditionStatus>().notNull(),
    holds: json("holds").$type<EditionHold[]>().notNull(),
    /** Its parts as they were called when it was signed; null before. */
    parts: json("parts").$type<Part[] | null>(),
    releasedAt: instant("released_at"),
    revision: int("revision").notNull().default(1),
  },
  (table) => [
    unique("edition_number").on(table.channel, table.number),
    unique("edition_date").on(table.channel, table.madeFor),
    index("edition_at").on(table.status, table.at),
  ],
);

/** A piece's place in an edition. */
export const editionItem = mysqlTable(
  "edition_item",
  {
    editionId: uuid("edition_id")
      .notNull()
      .references(() => edition.id),
    pieceId: uuid("piece_id")
      .notNull()
      .references(() => piece.id),
    part: token("part", { length: 60 }).notNull(),
    position: int("position").notNull(),
    /** What was signed, and went out; null before. */
    versionId: uuid("version_id").references(() => version.id),
    /** Why it came in after the edition closed; null where it came in time. */
    late: varchar("late", { length: 500 }),
    addedBy: uuid("added_by")
      .notNull()
      .references(() => person.id),
  },
  (table) => [primaryKey({ columns: [table.editionId, table.pieceId] }), index("edition_item_piece").on(table.pieceId)],
);

/** Somebody's word that an edition may leave as it is. */
export const editionSignature = mysqlTable(
  "edition_signature",
  {
    editionId: uuid("edition_id")
      .notNull()
      .references(() => edition.id),
    /** Who signs it, in person or by a stand-in. */
    signerId: uuid("signer_id")
      .notNull()
      .references(() => person.id),
    personId: uuid("person_id")
      .notNull()
      .references(() => person.id),
    at: instant("at").notNull(),
    /** The hash of what was signed: pieces, their words, their order. */
    hash: token("hash", { length: 64 }).notNull(),
  },
  (table) => [primaryKey({ columns: [table.editionId, table.signerId] })],
);

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
