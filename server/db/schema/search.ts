import { boolean, customType, index, mysqlTable, primaryKey, varchar } from "drizzle-orm/mysql-core";
import { instant, json, token, uuid } from "./columns.ts";
import { person } from "./people.ts";
import { piece } from "./pieces.ts";

/** Where words were written. */
export type Source = "title" | "text" | "comment" | "file";

const words = customType<{ data: string }>({ dataType: () => "longtext" });

/** Words that can be found, one row for each place they stand in. The migration gives `words` its full-text index. */
export const searchEntry = mysqlTable(
  "search_entry",
  {
    pieceId: uuid("piece_id")
      .notNull()
      .references(() => piece.id),
    source: token("source", { length: 10 }).$type<Source>().notNull(),
    /** The id of the comment or file; the piece's own for its title and text. */
    sourceId: token("source_id", { length: 64 }).notNull(),
    /** Who wrote them, and when. */
    personId: uuid("person_id").references(() => person.id),
    at: instant("at").notNull(),
    words: words("words").notNull(),
  },
  (table) => [primaryKey({ columns: [table.pieceId, table.source, table.sourceId] })],
);

/** A way of narrowing the pieces that somebody keeps: the words of the address, under a name of theirs. */
export const savedFilter = mysqlTable(
  "saved_filter",
  {
    id: uuid("id").primaryKey(),
    ownerId: uuid("owner_id")
      .notNull()
      .references(() => person.id),
    name: varchar("name", { length: 40 }).notNull(),
    query: varchar("query", { length: 1000 }).notNull(),
    /** Whether everybody has it in their frame. */
    shared: boolean("shared").notNull(),
    createdAt: instant("created_at").notNull(),
  },
  (table) => [index("saved_filter_owner").on(table.ownerId), index("saved_filter_shared").on(table.shared)],
);

/** Which columns somebody's list of pieces has, in their order. */
export const listColumns = mysqlTable("list_columns", {
  personId: uuid("person_id")
    .primaryKey()
    .references(() => person.id, { onDelete: "cascade" }),
  columns: json("columns").$type<string[]>().notNull(),
});
