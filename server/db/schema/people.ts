import {
  type AnyMySqlColumn,
  bigint,
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
  /** The zone times are shown in; the publication's where null. */
  zone: varchar("zone", { length: 60 }),
  /** Somebody who came by a guest link: no account, no role but the guest's, on one piece. */
  guest: boolean("guest").notNull().default(false),
  /** The authenticator's secret, enciphered; null without a second factor. */
  totpSecret: varchar("totp_secret", { length: 200 }),
  /** The last time step whose code was used, so that no code is good twice. */
  totpStep: bigint("totp_step", { mode: "number" }),
  joinedAt: instant("joined_at"),
  endedAt: instant("ended_at"),
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
  /** Who holds it signs in with a second factor. */
  secondFactor: boolean("second_factor").notNull().default(false),
  /** The guests' role: neither given nor changed by anybody. */
  fixed: boolean("fixed").notNull().default(false),
  revision: int("revision").notNull().default(1),
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

/** Several people who are given roles together. */
export const personGroup = mysqlTable("person_group", {
  id: uuid("id").primaryKey(),
  key: token("key", { length: 60 }).notNull().unique(),
  name: varchar("name", { length: 80 }).notNull().unique(),
});

export const groupMember = mysqlTable(
  "group_member",
  {
    groupId: uuid("group_id")
      .notNull()
      .references(() => personGroup.id),
    personId: uuid("person_id")
      .notNull()
      .references(() => person.id),
  },
  (table) => [
    primaryKey({ columns: [table.groupId, table.personId] }),
    index("group_member_person").on(table.personId),
  ],
);

/** A role held by a person or a group over a scope; `scope_id` is null for the whole publication. */
export const accessGrant = mysqlTable(
  "access_grant",
  {
    id: uuid("id").primaryKey(),
    personId: uuid("person_id").references(() => person.id),
    groupId: uuid("group_id").references(() => personGroup.id),
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
  (table) => [
    index("access_grant_person").on(table.personId),
    index("access_grant_group").on(table.groupId),
    index("access_grant_role").on(table.roleId),
  ],
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
    /** False between the password and the second factor: such a session opens nothing. */
    confirmed: boolean("confirmed").notNull().default(true),
    /** Whom the person looks as; while they do, nothing can be changed. */
    seeingAsId: uuid("seeing_as_id").references(() => person.id),
    address: varchar("address", { length: 60 }).notNull().default(""),
    agent: varchar("agent", { length: 200 }).notNull().default(""),
  },
  (table) => [index("session_person").on(table.personId), index("session_expiry").on(table.expiresAt)],
);

/** A link sent by mail that opens an account once: to join, or to choose a new password. The id is a hash of its secret. */
export const accountLink = mysqlTable(
  "account_link",
  {
    id: token("id", { length: 64 }).primaryKey(),
    personId: uuid("person_id")
      .notNull()
      .references(() => person.id),
    purpose: token("purpose", { length: 10 }).$type<"join" | "password">().notNull(),
    expiresAt: instant("expires_at").notNull(),
    usedAt: instant("used_at"),
  },
  (table) => [index("account_link_person").on(table.personId)],
);

/** Codes that stand in for a lost authenticator, each once; the id is a hash. */
export const recoveryCode = mysqlTable(
  "recovery_code",
  {
    id: token("id", { length: 64 }).primaryKey(),
    personId: uuid("person_id")
      .notNull()
      .references(() => person.id),
    usedAt: instant("used_at"),
  },
  (table) => [index("recovery_code_person").on(table.personId)],
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
