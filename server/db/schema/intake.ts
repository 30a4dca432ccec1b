import { boolean, index, int, mysqlTable, primaryKey, text, unique, varchar } from "drizzle-orm/mysql-core";
import type { OpenTo } from "#core/intake/form.ts";
import type { Sort, Standing } from "#core/intake/item.ts";
import type { Field } from "#core/text/field.ts";
import type { Content } from "#core/text/fields.ts";
import { instant, json, token, uuid } from "./columns.ts";
import { file } from "./files.ts";
import { person } from "./people.ts";
import { piece } from "./pieces.ts";
import { kind, section } from "./publication.ts";

/** A piece that somebody asked its author to write, until it is handed back. */
export const commission = mysqlTable("commission", {
  pieceId: uuid("piece_id")
    .primaryKey()
    .references(() => piece.id, { onDelete: "cascade" }),
  byId: uuid("by_id")
    .notNull()
    .references(() => person.id),
  brief: varchar("brief", { length: 4_000 }).notNull(),
  at: instant("at").notNull(),
  /** When its author took it on; null while they have not said so. */
  takenAt: instant("taken_at"),
});

/** A form by which something is asked for from outside. */
export const requestForm = mysqlTable("request_form", {
  id: uuid("id").primaryKey(),
  key: token("key", { length: 60 }).notNull().unique(),
  name: varchar("name", { length: 80 }).notNull(),
  about: varchar("about", { length: 1000 }).notNull(),
  kindId: uuid("kind_id")
    .notNull()
    .references(() => kind.id),
  sectionId: uuid("section_id")
    .notNull()
    .references(() => section.id),
  /** The channel whose editions say by when; null where it leaves on its own. */
  channel: token("channel", { length: 20 }),
  fields: json("fields").$type<Field[]>().notNull(),
  lead: token("lead", { length: 20 }),
  promise: token("promise", { length: 20 }),
  /** Whom what comes by it is given to; null where it waits for whoever judges there. */
  holderId: uuid("holder_id").references(() => person.id),
  openTo: token("open_to", { length: 10 }).$type<OpenTo>().notNull(),
  invited: json("invited").$type<string[]>().notNull(),
  on: boolean("is_on").notNull().default(true),
  revision: int("revision").notNull().default(1),
});

/** Somebody outside who asks for something, known by their address alone. */
export const requester = mysqlTable("requester", {
  id: uuid("id").primaryKey(),
  email: varchar("email", { length: 200 }).notNull().unique(),
  name: varchar("name", { length: 100 }).notNull(),
});

/** What lets a requester in: a link in a mail, good once, or the browser it was opened in. The id is a hash of its secret. */
export const requesterKey = mysqlTable(
  "requester_key",
  {
    id: token("id", { length: 64 }).primaryKey(),
    requesterId: uuid("requester_id")
      .notNull()
      .references(() => requester.id),
    sort: token("sort", { length: 10 }).$type<"link" | "browser">().notNull(),
    expiresAt: instant("expires_at").notNull(),
    usedAt: instant("used_at"),
  },
  (table) => [index("requester_key_of").on(table.requesterId), index("requester_key_end").on(table.expiresAt)],
);

/** A feed that is looked at for material. */
export const feed = mysqlTable("feed", {
  id: uuid("id").primaryKey(),
  name: varchar("name", { length: 80 }).notNull(),
  url: varchar("url", { length: 500 }).notNull().unique(),
  sectionId: uuid("section_id").references(() => section.id, { onDelete: "set null" }),
  kindId: uuid("kind_id").references(() => kind.id, { onDelete: "set null" }),
  holderId: uuid("holder_id").references(() => person.id),
  /** So many days what nobody took is kept. */
  keepDays: int("keep_days").notNull().default(30),
  /** What the other side said of its state last, to ask for what is new alone. */
  etag: varchar("etag", { length: 300 }),
  modified: varchar("modified", { length: 100 }),
  checkedAt: instant("checked_at"),
  /** How often in a row it could not be read, and why last. */
  failures: int("failures").notNull().default(0),
  problem: varchar("problem", { length: 300 }),
  revision: int("revision").notNull().default(1),
});

/** What came in and is judged, or was. */
export const intakeItem = mysqlTable(
  "intake_item",
  {
    id: uuid("id").primaryKey(),
    sort: token("sort", { length: 10 }).$type<Sort>().notNull(),
    standing: token("standing", { length: 12 }).$type<Standing>().notNull(),
    title: varchar("title", { length: 200 }).notNull(),
    /** What is said of it: an idea's outline, a reader's words. */
    words: text("words").notNull(),
    /** What a form was filled in with, and by which fields: the form may change later. */
    content: json("content").$type<Content | null>(),
    fields: json("fields").$type<Field[] | null>(),
    formId: uuid("form_id").references(() => requestForm.id),
    requesterId: uuid("requester_id").references(() => requester.id),
    /** Who of the team brought it; null for somebody outside. */
    byId: uuid("by_id").references(() => person.id),
    /** Where it belongs; null while nobody has said. */
    sectionId: uuid("section_id").references(() => section.id),
    kindId: uuid("kind_id").references(() => kind.id),
    /** The released piece a reader said it about, and the words they marked. */
    aboutId: uuid("about_id").references(() => piece.id),
    quote: varchar("quote", { length: 600 }),
    wishedAt: instant("wished_at"),
    /** The feed that brought it, what it is known by there, and where it stands. */
    feedId: uuid("feed_id").references(() => feed.id, { onDelete: "set null" }),
    feedKey: token("feed_key", { length: 64 }),
    source: varchar("source", { length: 1000 }),
    /** As whom a mail said it came, which nobody proved; and what it is known by, so that it comes in once. */
    sender: varchar("sender", { length: 200 }),
    mailKey: token("mail_key", { length: 64 }).unique(),
    /** Ideas that belong together. */
    bundle: varchar("bundle", { length: 80 }),
    shortlisted: boolean("shortlisted").notNull().default(false),
    holderId: uuid("holder_id").references(() => person.id),
    at: instant("at").notNull(),
    /** By when the team answers; null where it promised nothing. */
    dueAt: instant("due_at"),
    settledAt: instant("settled_at"),
    settledById: uuid("settled_by_id").references(() => person.id),
    reason: varchar("reason", { length: 4_000 }),
    /** What became of it. */
    pieceId: uuid("piece_id").references(() => piece.id),
    /** When its sender was thanked, since what they pointed at was mended. */
    thankedAt: instant("thanked_at"),
    revision: int("revision").notNull().default(1),
  },
  (table) => [
    index("intake_item_standing").on(table.standing, table.at, table.id),
    index("intake_item_sort").on(table.sort, table.standing, table.at),
    index("intake_item_requester").on(table.requesterId, table.at),
    index("intake_item_piece").on(table.pieceId),
    index("intake_item_about").on(table.aboutId),
    unique("intake_item_feed").on(table.feedId, table.feedKey),
    index("intake_item_holder").on(table.holderId, table.standing),
  ],
);

/** What a feed was ever seen to show, so that it comes in once, however long it is shown there. */
export const feedEntry = mysqlTable(
  "feed_entry",
  {
    feedId: uuid("feed_id")
      .notNull()
      .references(() => feed.id, { onDelete: "cascade" }),
    key: token("key", { length: 64 }).notNull(),
    /** When it was last seen there. */
    seenAt: instant("seen_at").notNull(),
  },
  (table) => [primaryKey({ columns: [table.feedId, table.key] })],
);

/** A file that came along with something. */
export const intakeFile = mysqlTable(
  "intake_file",
  {
    itemId: uuid("item_id")
      .notNull()
      .references(() => intakeItem.id, { onDelete: "cascade" }),
    fileId: token("file_id", { length: 64 })
      .notNull()
      .references(() => file.id),
    name: varchar("name", { length: 200 }).notNull(),
  },
  (table) => [primaryKey({ columns: [table.itemId, table.fileId] }), index("intake_file_file").on(table.fileId)],
);

/** What was said about something that came in: asked back, answered, amended. */
export const intakeWord = mysqlTable(
  "intake_word",
  {
    id: uuid("id").primaryKey(),
    itemId: uuid("item_id")
      .notNull()
      .references(() => intakeItem.id, { onDelete: "cascade" }),
    sort: token("sort", { length: 12 }).$type<"question" | "answer" | "amendment" | "check">().notNull(),
    /** Who of the team; null for its sender, and for what Elenco itself asks. */
    byId: uuid("by_id").references(() => person.id),
    words: text("words").notNull(),
    /** What an amendment changed. */
    changes: json("changes").$type<{ name: string; was: string; is: string }[] | null>(),
    at: instant("at").notNull(),
  },
  (table) => [index("intake_word_item").on(table.itemId, table.at)],
);

/** What somebody of the team thinks of an idea: an answer to each question, and a line. */
export const ideaJudgement = mysqlTable(
  "idea_judgement",
  {
    itemId: uuid("item_id")
      .notNull()
      .references(() => intakeItem.id, { onDelete: "cascade" }),
    personId: uuid("person_id")
      .notNull()
      .references(() => person.id),
    answers: json("answers").$type<Record<string, string>>().notNull(),
    note: varchar("note", { length: 500 }).notNull(),
    at: instant("at").notNull(),
  },
  (table) => [primaryKey({ columns: [table.itemId, table.personId] })],
);

/** A text pieces of a kind may begin from. */
export const modelText = mysqlTable(
  "model_text",
  {
    id: uuid("id").primaryKey(),
    kindId: uuid("kind_id")
      .notNull()
      .references(() => kind.id),
    name: varchar("name", { length: 80 }).notNull(),
    content: json("content").$type<Content>().notNull(),
    /** The piece it was made of; null where that is no more. */
    pieceId: uuid("piece_id").references(() => piece.id),
    byId: uuid("by_id")
      .notNull()
      .references(() => person.id),
    at: instant("at").notNull(),
  },
  (table) => [unique("model_text_name").on(table.kindId, table.name)],
);

/** What a piece was begun from: a model text, or another piece. */
export const pieceOrigin = mysqlTable(
  "piece_origin",
  {
    pieceId: uuid("piece_id")
      .primaryKey()
      .references(() => piece.id, { onDelete: "cascade" }),
    fromId: uuid("from_id").references(() => piece.id),
    modelId: uuid("model_id").references(() => modelText.id, { onDelete: "set null" }),
  },
  (table) => [index("piece_origin_from").on(table.fromId), index("piece_origin_model").on(table.modelId)],
);
