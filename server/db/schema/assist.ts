import { boolean, index, int, mediumtext, mysqlTable, varchar } from "drizzle-orm/mysql-core";
import type { Brought } from "#core/assist/answer.ts";
import type { Errand } from "#core/assist/errand.ts";
import { instant, json, token, uuid } from "./columns.ts";
import { person } from "./people.ts";
import { piece } from "./pieces.ts";

/** One row: the assistant outside that may be asked; none where nobody ever named one. */
export const assistant = mysqlTable("assistant", {
  id: int("id").primaryKey(),
  name: varchar("name", { length: 60 }).notNull(),
  url: varchar("url", { length: 500 }).notNull(),
  on: boolean("is_on").notNull(),
  /** Where it may be asked: sections, each with all below it; null for everywhere. */
  sectionIds: json("section_ids").$type<string[] | null>(),
  revision: int("revision").notNull().default(1),
});

/** An assistant that was sent for something: what it was sent, and what came of it. */
export const assistantErrand = mysqlTable(
  "assistant_errand",
  {
    id: uuid("id").primaryKey(),
    pieceId: uuid("piece_id")
      .notNull()
      .references(() => piece.id, { onDelete: "cascade" }),
    byId: uuid("by_id")
      .notNull()
      .references(() => person.id),
    errand: token("errand", { length: 20 }).$type<Errand>().notNull(),
    /** What the assistant was called, and where it was, when it was asked. */
    name: varchar("name", { length: 60 }).notNull(),
    url: varchar("url", { length: 500 }).notNull(),
    /** The body as it was sent. */
    body: mediumtext("body").notNull(),
    at: instant("at").notNull(),
    standing: token("standing", { length: 10 }).$type<"waiting" | "brought" | "failed" | "taken" | "left">().notNull(),
    attempts: int("attempts").notNull().default(0),
    brought: json("brought").$type<Brought | null>(),
    /** Why nothing came of it; null where something did, or may yet. */
    problem: varchar("problem", { length: 300 }),
    cost: varchar("cost", { length: 60 }),
    answeredAt: instant("answered_at"),
    endedById: uuid("ended_by_id").references(() => person.id),
    endedAt: instant("ended_at"),
  },
  (table) => [index("assistant_errand_piece").on(table.pieceId, table.at), index("assistant_errand_at").on(table.at)],
);

/** One row: how the stand-in for an assistant behaves. */
export const standInAssistant = mysqlTable("stand_in_assistant", {
  id: int("id").primaryKey(),
  mood: token("mood", { length: 20 }).notNull(),
});
