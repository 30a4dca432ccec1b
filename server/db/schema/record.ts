import { bigint, index, int, mysqlTable, unique, varchar } from "drizzle-orm/mysql-core";
import { instant, json, token, uuid } from "./columns.ts";

/** Something that has to happen later. One row for each kind and subject; gone once it is done. */
export const task = mysqlTable(
  "task",
  {
    id: uuid("id").primaryKey(),
    kind: token("kind", { length: 20 }).notNull(),
    /** What it is about: the id of a release, a mail, a person. */
    subject: token("subject", { length: 80 }).notNull(),
    dueAt: instant("due_at").notNull(),
    attempts: int("attempts").notNull().default(0),
    leaseOwner: token("lease_owner", { length: 40 }),
    leaseUntil: instant("lease_until"),
  },
  (table) => [
    unique("task_subject").on(table.kind, table.subject),
    index("task_due").on(table.kind, table.dueAt),
    index("task_by_time").on(table.dueAt),
  ],
);

/** The append-only record. `previous` and `hash` chain it; see core/ledger. */
export const ledger = mysqlTable(
  "ledger",
  {
    seq: bigint("seq", { mode: "number" }).primaryKey(),
    at: instant("at").notNull(),
    actorId: uuid("actor_id"),
    forId: uuid("for_id"),
    action: token("action", { length: 40 }).notNull(),
    pieceId: uuid("piece_id"),
    subjectId: uuid("subject_id"),
    before: json("before_value"),
    after: json("after_value"),
    origin: varchar("origin", { length: 80 }).notNull(),
    requestId: token("request_id", { length: 64 }).notNull(),
    previous: token("previous", { length: 64 }).notNull(),
    hash: token("hash", { length: 64 }).notNull(),
    /** The entry by which what this one said was erased; that one holds the hash it had. */
    erasedBy: bigint("erased_by", { mode: "number" }),
  },
  (table) => [
    index("ledger_piece").on(table.pieceId, table.seq),
    index("ledger_actor").on(table.actorId, table.seq),
    index("ledger_action").on(table.action, table.seq),
    index("ledger_subject").on(table.subjectId, table.seq),
  ],
);

/** One row: where the chain stands. Its lock puts the commits in order. */
export const ledgerTail = mysqlTable("ledger_tail", {
  id: int("id").primaryKey(),
  seq: bigint("seq", { mode: "number" }).notNull(),
  hash: token("hash", { length: 64 }).notNull(),
});
