import { index, int, mysqlTable, text } from "drizzle-orm/mysql-core";
import type { Settlement } from "#core/remarks/thread.ts";
import type { Anchor } from "#core/text/anchor.ts";
import type { Block } from "#core/text/block.ts";
import { instant, json, token, uuid } from "./columns.ts";
import { person } from "./people.ts";
import { piece, round } from "./pieces.ts";

/** Where something was said of a piece: on words, a field, a picture, or the whole; its first comment is the remark. */
export const thread = mysqlTable(
  "thread",
  {
    id: uuid("id").primaryKey(),
    pieceId: uuid("piece_id")
      .notNull()
      .references(() => piece.id),
    authorId: uuid("author_id")
      .notNull()
      .references(() => person.id),
    /** What sort of remark it is, by the team's own key. */
    kind: token("kind", { length: 40 }),
    /** The field it is on; null where it is on the whole piece. */
    field: token("field", { length: 80 }),
    /** The picture it is on, by its file. */
    picture: token("picture", { length: 64 }),
    /** Where its words stand now, or stood last. */
    anchor: json("anchor").$type<Anchor | null>(),
    /** The words it was made on. */
    madeOn: text("made_on"),
    /** Other wording proposed for its words. */
    proposal: json("proposal").$type<Block[] | null>(),
    /** The version it was made on, by its number: no version is kept for a remark. */
    version: int("version").notNull(),
    roundId: uuid("round_id").references(() => round.id),
    createdAt: instant("created_at").notNull(),
    /** Null while its author keeps it back. */
    sentAt: instant("sent_at"),
    pinnedAt: instant("pinned_at"),
    settledAt: instant("settled_at"),
    settledBy: uuid("settled_by").references(() => person.id),
    outcome: token("outcome", { length: 10 }).$type<Settlement>(),
  },
  (table) => [
    index("thread_piece").on(table.pieceId, table.createdAt),
    index("thread_open").on(table.pieceId, table.settledAt, table.sentAt),
  ],
);

/** What somebody says in a thread: the remark itself, or a reply to it. */
export const comment = mysqlTable(
  "comment",
  {
    id: uuid("id").primaryKey(),
    pieceId: uuid("piece_id")
      .notNull()
      .references(() => piece.id),
    threadId: uuid("thread_id")
      .notNull()
      .references(() => thread.id),
    authorId: uuid("author_id")
      .notNull()
      .references(() => person.id),
    /** Empty once it was taken back. */
    body: text("body").notNull(),
    createdAt: instant("created_at").notNull(),
    editedAt: instant("edited_at"),
    takenBackAt: instant("taken_back_at"),
  },
  (table) => [
    index("comment_piece").on(table.pieceId, table.createdAt),
    index("comment_thread").on(table.threadId, table.createdAt),
  ],
);
