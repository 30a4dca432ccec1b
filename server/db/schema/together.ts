import { index, int, mysqlTable, unique } from "drizzle-orm/mysql-core";
import { instant, json, token, uuid } from "./columns.ts";
import { person } from "./people.ts";
import { piece } from "./pieces.ts";

/** What is done to each of many pieces. */
export type Doing =
  | { do: "step"; name: string; note: string }
  | { do: "approve" | "return" | "recall"; note: string }
  | { do: "due"; at: number | null; note: string }
  | { do: "due-shift"; days: number; note: string }
  | { do: "plan"; at: number }
  | { do: "plan-shift"; days: number }
  | { do: "urgency"; urgency: "normal" | "urgent" }
  | { do: "hand"; from: string; to: string }
  | { do: "section"; sectionId: string; note: string }
  | { do: "edition"; editionId: string; note: string }
  | { do: "point-out"; people: string[]; note: string }
  | { do: "send"; step: string; personId: string; at: number | null; note: string }
  | { do: "each" };

/** Many pieces to which somebody does one thing: first what would come of it is found out, then it is done. */
export const bundle = mysqlTable(
  "bundle",
  {
    id: uuid("id").primaryKey(),
    personId: uuid("person_id")
      .notNull()
      .references(() => person.id),
    doing: json("doing").$type<Doing>().notNull(),
    createdAt: instant("created_at").notNull(),
    /** Since when it is being done; null while it is only looked at. */
    startedAt: instant("started_at"),
  },
  (table) => [index("bundle_person").on(table.personId, table.createdAt)],
);

/**
 * `blank` is none of it until somebody says what is done to it; `waiting` is looked at next; then it `would` go or is `refused`, and once it is done, `done` or, where
 * something stood in its way after all, `failed`.
 */
export type BundleItemStatus = "blank" | "waiting" | "would" | "refused" | "done" | "failed";

/** One piece of a bundle, as it was seen. */
export const bundleItem = mysqlTable(
  "bundle_item",
  {
    /** Also the key under which what was done is answered, so that nothing is done twice. */
    id: uuid("id").primaryKey(),
    bundleId: uuid("bundle_id")
      .notNull()
      .references(() => bundle.id),
    position: int("position").notNull(),
    pieceId: uuid("piece_id")
      .notNull()
      .references(() => piece.id),
    revision: int("revision").notNull(),
    /** What is done to this piece alone; null where it is what is done to all. */
    doing: json("doing").$type<Doing>(),
    /** The hash of the version that was seen. */
    hash: token("hash", { length: 64 }).notNull(),
    status: token("status", { length: 10 }).$type<BundleItemStatus>().notNull(),
    /** What would happen, what happened, or why not, in sentences. */
    said: json("said").$type<string[]>().notNull(),
  },
  (table) => [
    unique("bundle_place").on(table.bundleId, table.position),
    index("bundle_status").on(table.bundleId, table.status, table.position),
  ],
);
