import {
  type AnyMySqlColumn,
  bigint,
  boolean,
  date,
  index,
  int,
  mysqlTable,
  primaryKey,
  text,
  unique,
  varchar,
} from "drizzle-orm/mysql-core";
import type { TellingChoices } from "#core/telling/choices.ts";
import { instant, json, token, uuid } from "./columns.ts";

export const person = mysqlTable("person", {
  id: uuid("id").primaryKey(),
  key: token("key", { length: 60 }).notNull().unique(),
  name: varchar("name", { length: 120 }).notNull(),
  email: varchar("email", { length: 200 }).notNull().unique(),
  passwordHash: varchar("password_hash", { length: 200 }),
  active: boolean("active").notNull().default(true),
  standInId: uuid("stand_in_id").references((): AnyMySqlColumn => person.id),
  /** How much may wait on them before it is too much. */
  loadLimit: int("load_limit").notNull().default(5),
  /** How they want to be told; null where they never said. */
  telling: json("telling").$type<TellingChoices | null>(),
  /** The address of a chat channel's incoming webhook that is theirs, enciphered: who knows it may write there. */
  chatAddress: varchar("chat_address", { length: 1000 }),
  /** When they last looked at their notices. */
  lookedAt: instant("looked_at"),
  /** When they last looked at what happened. */
  latelyAt: instant("lately_at"),
  /** Under which secret their calendar file is given out: what the database knows it by, and itself, enciphered. */
  calendarId: token("calendar_id", { length: 64 }).unique(),
  calendarSecret: varchar("calendar_secret", { length: 200 }),
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

/** A signed-in browser; the id is a keyed hash of the cookie's secret. */
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
    /** Whether a second factor was given in it, or a passkey, which is two. */
    factor: boolean("factor").notNull().default(false),
    /** The last time something was asked in it, give or take some minutes. */
    seenAt: instant("seen_at").notNull(),
    /** Until when it need not be proved anew who sits there, to act on access. */
    provenUntil: instant("proven_until").notNull(),
    /** Whom the person looks as; while they do, nothing can be changed. */
    seeingAsId: uuid("seeing_as_id").references(() => person.id),
    address: varchar("address", { length: 60 }).notNull().default(""),
    agent: varchar("agent", { length: 200 }).notNull().default(""),
  },
  (table) => [index("session_person").on(table.personId), index("session_expiry").on(table.expiresAt)],
);

/** A browser somebody signed in with before; the id is a keyed hash of what it was given to be known by. */
export const knownBrowser = mysqlTable(
  "known_browser",
  {
    id: token("id", { length: 64 }).notNull(),
    personId: uuid("person_id")
      .notNull()
      .references(() => person.id),
    at: instant("at").notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.id, table.personId] }),
    index("known_browser_person").on(table.personId, table.at),
  ],
);

/** A passkey: what a person's own device proves them by (Web Authentication). */
export const passkey = mysqlTable(
  "passkey",
  {
    id: uuid("id").primaryKey(),
    personId: uuid("person_id")
      .notNull()
      .references(() => person.id),
    /** The credential's id, base64url. */
    credential: token("credential", { length: 1400 }).notNull().unique(),
    /** Its public key as COSE, base64url. */
    publicKey: varchar("public_key", { length: 4000 }).notNull(),
    /** How often it has signed, where it counts. */
    counter: bigint("counter", { mode: "number" }).notNull(),
    name: varchar("name", { length: 60 }).notNull(),
    createdAt: instant("created_at").notNull(),
    usedAt: instant("used_at"),
  },
  (table) => [index("passkey_person").on(table.personId)],
);

/** Challenges a passkey has answered, so that no answer is good twice; the id is a keyed hash. */
export const spentChallenge = mysqlTable(
  "spent_challenge",
  { id: token("id", { length: 64 }).primaryKey(), at: instant("at").notNull() },
  (table) => [index("spent_challenge_at").on(table.at)],
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

/** Codes that stand in for a lost authenticator, each once; the id is a keyed hash. */
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

/** What is counted for a quarter of an hour, so that there is not too much of it: failed sign-ins, letters, comments. */
export const signInFailure = mysqlTable(
  "sign_in_failure",
  { id: uuid("id").primaryKey(), bucket: token("bucket", { length: 64 }).notNull(), at: instant("at").notNull() },
  (table) => [index("sign_in_failure_bucket").on(table.bucket, table.at)],
);

/** The answer a form already had, so that a second click gets it again. Enciphered: it may hold a link that opens something. */
export const formAnswer = mysqlTable(
  "form_answer",
  {
    key: uuid("key").notNull(),
    personId: uuid("person_id")
      .notNull()
      .references(() => person.id),
    answer: text("answer").notNull(),
    at: instant("at").notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.key, table.personId] }),
    unique("form_answer_at").on(table.at, table.key, table.personId),
  ],
);
