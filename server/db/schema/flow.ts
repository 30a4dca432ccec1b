import { boolean, double, index, int, mysqlTable, varchar } from "drizzle-orm/mysql-core";
import { instant, token, uuid } from "./columns.ts";
import { piece } from "./pieces.ts";
import { kind, section, workflow } from "./publication.ts";

/** When a piece in flight is likely to arrive, as it was last foreseen. */
export const likely = mysqlTable("likely", {
  pieceId: uuid("piece_id")
    .primaryKey()
    .references(() => piece.id, { onDelete: "cascade" }),
  /** The middle, and the ends of the middle eight of ten. */
  p10: instant("p10").notNull(),
  p50: instant("p50").notNull(),
  p90: instant("p90").notNull(),
  /** When it is likely to be ready, the middle. */
  readyAt: instant("ready_at").notNull(),
  /** The share of runs in time for the date wished for; null without one. */
  onTime: double("on_time"),
});

/** When the pieces of a line were foreseen last. */
export const likelyLine = mysqlTable("likely_line", {
  workflowId: uuid("workflow_id")
    .primaryKey()
    .references(() => workflow.id, { onDelete: "cascade" }),
  at: instant("at").notNull(),
});

/**
 * So many pieces that are to reach readers, or leave through a channel, in a period; or so many of a hundred of those
 * with a date in it that are to be in time. Of a kind, of a section with all below it, or of all.
 */
export const target = mysqlTable(
  "target",
  {
    id: uuid("id").primaryKey(),
    name: varchar("name", { length: 80 }).notNull(),
    wanted: int("wanted").notNull(),
    /** Whether `wanted` is so many of a hundred in time, and not so many pieces. */
    share: boolean("share").notNull().default(false),
    kindId: uuid("kind_id").references(() => kind.id, { onDelete: "cascade" }),
    sectionId: uuid("section_id").references(() => section.id, { onDelete: "cascade" }),
    /** The channel they are to leave through; null where it is that readers first see them. */
    channel: token("channel", { length: 20 }),
    /** Local dates, both inclusive. */
    from: token("from_day", { length: 10 }).notNull(),
    until: token("until_day", { length: 10 }).notNull(),
  },
  (table) => [index("target_until").on(table.until)],
);
