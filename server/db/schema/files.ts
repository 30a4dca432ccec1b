import { index, int, mysqlTable, primaryKey, varchar } from "drizzle-orm/mysql-core";
import { instant, token, uuid } from "./columns.ts";
import { person } from "./people.ts";
import { piece } from "./pieces.ts";

/** A file that is kept outside the database, once for all pieces it belongs to. */
export const file = mysqlTable("file", {
  /** The SHA-256 of its bytes, in hexadecimal. */
  id: token("id", { length: 64 }).primaryKey(),
  bytes: int("bytes").notNull(),
  /** As its bytes say, not its name. */
  mediaType: token("media_type", { length: 100 }).notNull(),
  /** In pixels, as it is shown; null for what is no picture. */
  width: int("width"),
  height: int("height"),
  createdAt: instant("created_at").notNull(),
});

/** A file as it belongs to one piece, with what is said of it there. */
export const attachment = mysqlTable(
  "attachment",
  {
    pieceId: uuid("piece_id")
      .notNull()
      .references(() => piece.id),
    fileId: token("file_id", { length: 64 })
      .notNull()
      .references(() => file.id),
    name: varchar("name", { length: 200 }).notNull(),
    description: varchar("description", { length: 1000 }).notNull(),
    credit: varchar("credit", { length: 200 }).notNull(),
    licence: varchar("licence", { length: 200 }).notNull(),
    addedBy: uuid("added_by")
      .notNull()
      .references(() => person.id),
    addedAt: instant("added_at").notNull(),
    /** When it was taken out; earlier versions may still show it. */
    removedAt: instant("removed_at"),
  },
  (table) => [primaryKey({ columns: [table.pieceId, table.fileId] }), index("attachment_file").on(table.fileId)],
);
