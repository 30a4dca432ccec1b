import { bigint, boolean, index, int, mysqlTable, text, unique, varchar } from "drizzle-orm/mysql-core";
import type { Rule } from "#core/rules/document.ts";
import { instant, json, token, uuid } from "./columns.ts";
import { intakeItem } from "./intake.ts";
import { person } from "./people.ts";
import { piece } from "./pieces.ts";

/** A standing rule. What it does it does within what its maker may do. */
export const rule = mysqlTable("rule", {
  id: uuid("id").primaryKey(),
  key: token("key", { length: 60 }).notNull().unique(),
  name: varchar("name", { length: 120 }).notNull(),
  hears: json("hears").$type<Rule["when"]>().notNull(),
  asks: json("asks").$type<Rule["if"]>().notNull(),
  does: json("does").$type<Rule["then"]>().notNull(),
  on: boolean("is_on").notNull().default(false),
  /** Who said it last as it is. */
  makerId: uuid("maker_id")
    .notNull()
    .references(() => person.id),
  changedAt: instant("changed_at").notNull(),
  /** Where the ledger ended when it was said or switched on: what was before is not for it. */
  since: bigint("since", { mode: "number" }).notNull(),
  revision: int("revision").notNull().default(1),
});

/** What came of one thing a rule does: done, or why not. */
export interface Did {
  said: string;
  refused: string | null;
}

/**
 * A rule that acted on a piece, or on what came in: within the chain that one event of a person or of the clock began,
 * once. It is laid down before anything is done, so that whatever breaks off is gone on with and nothing is done twice.
 */
export const ruleRun = mysqlTable(
  "rule_run",
  {
    id: uuid("id").primaryKey(),
    ruleId: uuid("rule_id")
      .notNull()
      .references(() => rule.id, { onDelete: "cascade" }),
    /** The piece, or what came in. */
    pieceId: uuid("piece_id").references(() => piece.id, { onDelete: "cascade" }),
    itemId: uuid("item_id").references(() => intakeItem.id, { onDelete: "cascade" }),
    /** The number of the entry the chain began with; of the clock, the instant. */
    chain: bigint("chain", { mode: "number" }).notNull(),
    at: instant("at").notNull(),
    /** Null while it is under way. */
    did: json("did").$type<Did[] | null>(),
    /** How often what failed was tried once more. */
    tries: int("tries").notNull().default(0),
  },
  (table) => [
    unique("rule_run_once").on(table.ruleId, table.pieceId, table.chain),
    unique("rule_run_item").on(table.ruleId, table.itemId, table.chain),
    index("rule_run_piece").on(table.pieceId, table.at),
    index("rule_run_rule").on(table.ruleId, table.at),
  ],
);

/** One row: up to where the ledger, and up to when the due dates were looked at for the rules. */
export const ruleCursor = mysqlTable("rule_cursor", {
  id: int("id").primaryKey(),
  seq: bigint("seq", { mode: "number" }).notNull(),
  dueUpTo: instant("due_up_to").notNull(),
});

/** A call of an outside service that a rule makes: what was sent, and what came of it. */
export const ruleCall = mysqlTable(
  "rule_call",
  {
    id: uuid("id").primaryKey(),
    ruleId: uuid("rule_id")
      .notNull()
      .references(() => rule.id, { onDelete: "cascade" }),
    pieceId: uuid("piece_id")
      .notNull()
      .references(() => piece.id, { onDelete: "cascade" }),
    url: varchar("url", { length: 500 }).notNull(),
    body: text("body").notNull(),
    at: instant("at").notNull(),
    status: token("status", { length: 10 }).$type<"waiting" | "taken" | "given-up">().notNull(),
    attempts: int("attempts").notNull().default(0),
    /** What the other side answered last, or why nothing was heard of it; null before. */
    answer: varchar("answer", { length: 300 }),
    takenAt: instant("taken_at"),
  },
  (table) => [index("rule_call_rule").on(table.ruleId, table.at), index("rule_call_piece").on(table.pieceId)],
);
