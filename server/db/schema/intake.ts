import { mysqlTable, varchar } from "drizzle-orm/mysql-core";
import { instant, uuid } from "./columns.ts";
import { person } from "./people.ts";
import { piece } from "./pieces.ts";

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
