import { type AnyMySqlColumn, bigint, int, mysqlTable, unique, varchar } from "drizzle-orm/mysql-core";
import type { Field } from "#core/text/fields.ts";
import type { Calendar } from "#core/time/calendar.ts";
import type { Workflow } from "#core/workflow/document.ts";
import { instant, json, token, uuid } from "./columns.ts";
import { person } from "./people.ts";

/** The one publication of an installation. */
export const publication = mysqlTable("publication", {
  id: uuid("id").primaryKey(),
  name: varchar("name", { length: 120 }).notNull(),
  calendar: json("calendar").$type<Calendar>().notNull(),
  workflowId: uuid("workflow_id").references((): AnyMySqlColumn => workflow.id),
});

/** How far the demo's clock runs ahead of the machine's; no row where the clock is the machine's. */
export const clock = mysqlTable("clock", {
  id: int("id").primaryKey(),
  ahead: bigint("ahead_ms", { mode: "number" }).notNull(),
});

export const section = mysqlTable("section", {
  id: uuid("id").primaryKey(),
  key: token("key", { length: 60 }).notNull().unique(),
  name: varchar("name", { length: 80 }).notNull(),
  parentId: uuid("parent_id").references((): AnyMySqlColumn => section.id),
  position: int("position").notNull().default(0),
  /** Null inherits from the section above, and at the top from the publication. */
  workflowId: uuid("workflow_id").references((): AnyMySqlColumn => workflow.id),
  revision: int("revision").notNull().default(1),
});

export const kind = mysqlTable("kind", {
  id: uuid("id").primaryKey(),
  key: token("key", { length: 60 }).notNull().unique(),
  name: varchar("name", { length: 80 }).notNull(),
  fields: json("fields").$type<Field[]>().notNull(),
});

export const workflow = mysqlTable("workflow", {
  id: uuid("id").primaryKey(),
  key: token("key", { length: 60 }).notNull().unique(),
  name: varchar("name", { length: 80 }).notNull(),
  currentRevisionId: uuid("current_revision_id").references((): AnyMySqlColumn => workflowRevision.id),
  revision: int("revision").notNull().default(1),
});

/** Immutable: a change to a workflow is a new revision, and pieces belong to one. */
export const workflowRevision = mysqlTable(
  "workflow_revision",
  {
    id: uuid("id").primaryKey(),
    workflowId: uuid("workflow_id")
      .notNull()
      .references(() => workflow.id),
    number: int("number").notNull(),
    document: json("document").$type<Workflow>().notNull(),
    createdAt: instant("created_at").notNull(),
    createdBy: uuid("created_by").references(() => person.id),
  },
  (table) => [unique("workflow_revision_number").on(table.workflowId, table.number)],
);
