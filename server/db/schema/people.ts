import {
  type AnyMySqlColumn,
  boolean,
  date,
  index,
  int,
  mysqlTable,
  primaryKey,
  unique,
  varchar,
} from "drizzle-orm/mysql-core";
import { instant, token, uuid } from "./columns.ts";

export const person = mysqlTable("person", {
  id: uuid("id").primaryKey(),
  key: token("key", { length: 60 }).notNull().unique(),
  name: varchar("name", { length: 120 }).notNull(),
  email: varchar("email", { length: 200 }).notNull().unique(),
  passwordHash: varchar("password_hash", { length: 200 }),
  active: boolean("active").notNull().default(true),
  standInId: uuid("stand_in_id").references((): AnyMySqlColumn => person.id),
  mailNotices: boolean("mail_notices").notNull().default(true),
  revision: int("revision").notNull().default(1),
});

export const absence = mysqlTable(
  "absence",
  {
    id: uuid("id").primaryKey(),
    personId: uuid("person_id")
      .notNull()
      .references(() => person.id),
    from: date("from_date", { mode: "string" }).notNull(),
    until: date("until_date", { mode: "string" }).notNull(),
  },
  (table) => [index("absence_person").on(table.personId, table.until)],
);

export const role = mysqlTable("role", {
  id: uuid("id").primaryKey(),
  key: token("key", { length: 60 }).notNull().unique(),
  name: varchar("name", { length: 80 }).notNull(),
});

export const rolePermission = mysqlTable(
  "role_permission",
  {
    roleId: uuid("role_id")
      .notNull()
      .references(() => role.id),
    permission: token("permission", { length: 60 }).notNull(),
  },
  (table) => [primaryKey({ columns: [table.roleId, table.permission] })],
);

/** A role held by a person over a scope; `scope_id` is null for the whole publication. */
export const accessGrant = mysqlTable(
  "access_grant",
  {
    id: uuid("id").primaryKey(),
    personId: uuid("person_id")
      .notNull()
      .references(() => person.id),
    roleId: uuid("role_id")
      .notNull()
      .references(() => role.id),
    scope: token("scope", { length: 20 }).$type<"publication" | "section" | "kind" | "piece">().notNull(),
    scopeId: uuid("scope_id"),
    from: instant("from_at"),
    until: instant("until_at"),
    publishFrom: instant("publish_from"),
    publishUntil: instant("publish_until"),
  },
  (table) => [index("access_grant_person").on(table.personId), index("access_grant_role").on(table.roleId)],
);

/** A signed-in browser; the id is the SHA-256 of the cookie's secret. */
export const session = mysqlTable(
  "session",
  {
    id: token("id", { length: 64 }).primaryKey(),
    personId: uuid("person_id")
      .notNull()
      .references(() => person.id),
    createdAt: instant("created_at").notNull(),
    expiresAt: instant("expires_at").notNull(),
  },
  (table) => [index("session_person").on(table.personId), index("session_expiry").on(table.expiresAt)],
);

/** Failed sign-ins, counted per address and per account. */
export const signInFailure = mysqlTable(
  "sign_in_failure",
  { id: uuid("id").primaryKey(), bucket: token("bucket", { length: 64 }).notNull(), at: instant("at").notNull() },
  (table) => [index("sign_in_failure_bucket").on(table.bucket, table.at)],
);

/** The answer a form already had, so that a second click gets it again. */
export const formAnswer = mysqlTable(
  "form_answer",
  {
    key: uuid("key").notNull(),
    personId: uuid("person_id")
      .notNull()
      .references(() => person.id),
    answer: varchar("answer", { length: 4000 }).notNull(),
    at: instant("at").notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.key, table.personId] }),
    unique("form_answer_at").on(table.at, table.key, table.personId),
  ],
);
