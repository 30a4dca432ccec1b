import { type AnyMySqlColumn, bigint, date, index, int, mysqlTable, unique, varchar } from "drizzle-orm/mysql-core";
import type { IntakeSettings } from "#core/intake/ideas.ts";
import type { RemarkKind } from "#core/remarks/thread.ts";
import type { BindingScope } from "#core/sections/tree.ts";
import type { TellingChoices } from "#core/telling/choices.ts";
import type { Field } from "#core/text/field.ts";
import type { Calendar } from "#core/time/calendar.ts";
import type { Workflow } from "#core/workflow/document.ts";
import type { Fate } from "#core/workflow/migrate.ts";
import { instant, json, token, uuid } from "./columns.ts";
import { person } from "./people.ts";

/** The one publication of an installation. */
export const publication = mysqlTable("publication", {
  id: uuid("id").primaryKey(),
  name: varchar("name", { length: 120 }).notNull(),
  calendar: json("calendar").$type<Calendar>().notNull(),
  /** What sorts of remarks it tells apart; null while it is content with the ready ones. */
  remarkKinds: json("remark_kinds").$type<RemarkKind[] | null>(),
  /** How people are told who chose nothing; null while it is content with what is ready. */
  telling: json("telling").$type<TellingChoices | null>(),
  /** What ideas are judged by, why things are declined, and by when the team answers; null while it is content with what is ready. */
  intake: json("intake").$type<IntakeSettings | null>(),
  revision: int("revision").notNull().default(1),
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
  revision: int("revision").notNull().default(1),
});

export const kind = mysqlTable("kind", {
  id: uuid("id").primaryKey(),
  key: token("key", { length: 60 }).notNull().unique(),
  name: varchar("name", { length: 80 }).notNull(),
  fields: json("fields").$type<Field[]>().notNull(),
  revision: int("revision").notNull().default(1),
});

export const workflow = mysqlTable("workflow", {
  id: uuid("id").primaryKey(),
  key: token("key", { length: 60 }).notNull().unique(),
  name: varchar("name", { length: 80 }).notNull(),
  /** Null until a first revision is put in use. */
  currentRevisionId: uuid("current_revision_id").references((): AnyMySqlColumn => workflowRevision.id),
  /** Local dates, inclusive, from the revision in use: outside them no new piece begins on it. */
  validFrom: date("valid_from", { mode: "string" }),
  validUntil: date("valid_until", { mode: "string" }),
  /** Retired: pieces finish on it, none begins. */
  retiredAt: instant("retired_at"),
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
    /** The warnings it was put in use with, by their identity (see core/workflow/checking), acknowledged by `created_by`. */
    acknowledged: json("acknowledged").$type<string[]>().notNull(),
    createdAt: instant("created_at").notNull(),
    createdBy: uuid("created_by").references(() => person.id),
  },
  (table) => [unique("workflow_revision_number").on(table.workflowId, table.number)],
);

/** A workflow as it is being changed: one for each, held by one person at a time. */
export const workflowCopy = mysqlTable("workflow_copy", {
  workflowId: uuid("workflow_id")
    .primaryKey()
    .references(() => workflow.id),
  document: json("document").$type<Workflow>().notNull(),
  holderId: uuid("holder_id")
    .notNull()
    .references(() => person.id),
  touchedAt: instant("touched_at").notNull(),
  revision: int("revision").notNull().default(1),
});

/** Where a workflow applies; `scope_id` names the publication, section, kind or piece. */
export const workflowBinding = mysqlTable(
  "workflow_binding",
  {
    id: uuid("id").primaryKey(),
    scope: token("scope", { length: 20 }).$type<BindingScope>().notNull(),
    scopeId: uuid("scope_id").notNull(),
    workflowId: uuid("workflow_id")
      .notNull()
      .references(() => workflow.id),
  },
  (table) => [
    unique("workflow_binding_scope").on(table.scope, table.scopeId),
    index("workflow_binding_workflow").on(table.workflowId),
  ],
);

/** What is chosen for the pieces in flight when a workflow changes: by `revision id:state key`, and by piece id. */
export interface Choices {
  states: Record<string, Fate>;
  pieces: Record<string, Fate>;
}

export type AdoptionStatus = "planned" | "held" | "done" | "cancelled";

/** A change of a workflow that is to be put in use at a date. */
export const workflowAdoption = mysqlTable(
  "workflow_adoption",
  {
    id: uuid("id").primaryKey(),
    workflowId: uuid("workflow_id")
      .notNull()
      .references(() => workflow.id),
    document: json("document").$type<Workflow>().notNull(),
    choices: json("choices").$type<Choices>().notNull(),
    acknowledged: json("acknowledged").$type<string[]>().notNull(),
    at: instant("at").notNull(),
    status: token("status", { length: 10 }).$type<AdoptionStatus>().notNull(),
    reason: varchar("reason", { length: 600 }),
    plannedBy: uuid("planned_by")
      .notNull()
      .references(() => person.id),
  },
  (table) => [index("workflow_adoption_workflow").on(table.workflowId, table.status)],
);
