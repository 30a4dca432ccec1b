import { sql } from "drizzle-orm";
import {
  type AnyMySqlColumn,
  boolean,
  index,
  int,
  mysqlTable,
  primaryKey,
  text,
  unique,
  varchar,
} from "drizzle-orm/mysql-core";
import type { Principal } from "#core/people/principals.ts";
import type { Rule, Stuck, Verdict } from "#core/review/round.ts";
import type { Flag, VoidReason } from "#core/review/seating.ts";
import type { Content, WordCounts } from "#core/text/fields.ts";
import type { StateKind } from "#core/workflow/document.ts";
import { instant, json, token, uuid } from "./columns.ts";
import { person } from "./people.ts";
import { kind, section, workflowRevision } from "./publication.ts";

export type Urgency = "normal" | "urgent";

export const piece = mysqlTable(
  "piece",
  {
    id: uuid("id").primaryKey(),
    slug: token("slug", { length: 100 }).notNull().unique(),
    title: varchar("title", { length: 400 }).notNull(),
    sectionId: uuid("section_id")
      .notNull()
      .references(() => section.id),
    kindId: uuid("kind_id")
      .notNull()
      .references(() => kind.id),
    authorId: uuid("author_id")
      .notNull()
      .references(() => person.id),
    workflowRevisionId: uuid("workflow_revision_id")
      .notNull()
      .references(() => workflowRevision.id),
    stateKey: token("state_key", { length: 60 }).notNull(),
    /** Copied from the workflow revision when the piece arrives, so that lists need not read documents. */
    stateKind: token("state_kind", { length: 20 }).$type<StateKind>().notNull(),
    /** Neither live nor closed; computed by the database, for the lists of work. */
    inFlight: boolean("in_flight").generatedAlwaysAs(sql`state_kind NOT IN ('live', 'closed')`, { mode: "stored" }),
    since: instant("since").notNull(),
    dueAt: instant("due_at"),
    urgency: token("urgency", { length: 10 }).$type<Urgency>().notNull().default("normal"),
    /**
     * For when it was wished for as readers first had it, since it is wished for no more then. It stands before
     * `publishAt`: columns are set in this order, and it is what that one held.
     */
    promisedAt: instant("promised_at"),
    publishAt: instant("publish_at"),
    /** Before it nothing of it reaches readers, whoever plans it. */
    embargoUntil: instant("embargo_until"),
    private: boolean("private").notNull().default(false),
    /** Whether the state's viewers leave somebody out; then `piece_viewer` says who remains. */
    restricted: boolean("restricted").notNull().default(false),
    currentVersionId: uuid("current_version_id")
      .notNull()
      .references((): AnyMySqlColumn => version.id),
    /** What readers see, and since when; null while nothing is public. */
    liveVersionId: uuid("live_version_id").references((): AnyMySqlColumn => version.id),
    firstLiveAt: instant("first_live_at"),
    liveAt: instant("live_at"),
    /** What the last passed review approved. */
    approvedVersionId: uuid("approved_version_id").references((): AnyMySqlColumn => version.id),
    /** Rises with every change a person could have overlooked. */
    revision: int("revision").notNull().default(1),
    createdAt: instant("created_at").notNull(),
    /** Hidden from everybody but those who may bring it back. */
    deletedAt: instant("deleted_at"),
    deletedBy: uuid("deleted_by").references(() => person.id),
    /** Erased for good: what was written is gone, the row and its way stay. */
    erasedAt: instant("erased_at"),
    /** When it was last moved past what its rules ask. */
    overriddenAt: instant("overridden_at"),
    /** Whether somebody chose the present due date; the state's own time allowed otherwise. */
    dueChosen: boolean("due_chosen").notNull().default(false),
  },
  (table) => [
    index("piece_newest").on(table.since, table.id),
    index("piece_in_flight").on(table.inFlight, table.since, table.id),
    /** Holds all that counting what somebody reaches needs. */
    index("piece_reach").on(
      table.sectionId,
      table.inFlight,
      table.private,
      table.restricted,
      table.deletedAt,
      table.publishAt,
    ),
    index("piece_author").on(table.authorId, table.stateKind, table.since),
    index("piece_state").on(table.stateKind, table.since, table.id),
    index("piece_overridden").on(table.overriddenAt, table.id),
    index("piece_first_live").on(table.firstLiveAt, table.id),
    index("piece_promised").on(table.promisedAt),
    index("piece_revision").on(table.workflowRevisionId, table.stateKey, table.id),
  ],
);

/** The principals a restricted state shows a piece to. */
export const pieceViewer = mysqlTable(
  "piece_viewer",
  {
    pieceId: uuid("piece_id")
      .notNull()
      .references(() => piece.id),
    principal: token("principal", { length: 80 }).$type<Principal>().notNull(),
  },
  (table) => [primaryKey({ columns: [table.pieceId, table.principal] })],
);

/** Who a piece is assigned to in its present state. */
export const assignment = mysqlTable(
  "assignment",
  {
    pieceId: uuid("piece_id")
      .notNull()
      .references(() => piece.id),
    personId: uuid("person_id")
      .notNull()
      .references(() => person.id),
    /** The absent person it is given to, when a stand-in has it. */
    forPersonId: uuid("for_person_id").references(() => person.id),
  },
  (table) => [
    primaryKey({ columns: [table.pieceId, table.personId] }),
    index("assignment_person").on(table.personId),
    index("assignment_for").on(table.forPersonId),
  ],
);

/** Points to tick in the present state. */
export const checklistPoint = mysqlTable(
  "checklist_point",
  {
    pieceId: uuid("piece_id")
      .notNull()
      .references(() => piece.id),
    position: int("position").notNull(),
    words: varchar("words", { length: 200 }).notNull(),
    doneBy: uuid("done_by").references(() => person.id),
  },
  (table) => [primaryKey({ columns: [table.pieceId, table.position] })],
);

export const version = mysqlTable(
  "version",
  {
    id: uuid("id").primaryKey(),
    /** No foreign key: a piece and its first version name each other, and InnoDB checks at once. */
    pieceId: uuid("piece_id").notNull(),
    number: int("number").notNull(),
    content: json("content").$type<Content>().notNull(),
    hash: token("hash", { length: 64 }).notNull(),
    /** The hash of what an approval binds to: the content without its free fields. */
    boundHash: token("bound_hash", { length: 64 }).notNull(),
    /** Counted once: a long text takes longer to count than to read. */
    words: json("words").$type<WordCounts>().notNull(),
    authorId: uuid("author_id")
      .notNull()
      .references(() => person.id),
    /** When its last words were saved. */
    createdAt: instant("created_at").notNull(),
    /** What somebody called it, so that it is found again. */
    name: varchar("name", { length: 120 }),
  },
  (table) => [unique("version_number").on(table.pieceId, table.number)],
);

/** Who writes in a text just now: one person in one window. */
export const textHolder = mysqlTable("text_holder", {
  pieceId: uuid("piece_id")
    .primaryKey()
    .references(() => piece.id),
  personId: uuid("person_id")
    .notNull()
    .references(() => person.id),
  /** The window, by an id of its own. */
  window: uuid("window").notNull(),
  since: instant("since").notNull(),
  /** When something was last heard from that window. */
  heardAt: instant("heard_at").notNull(),
});

/** What somebody saw of a piece when they last came to look, and the time before. */
export const look = mysqlTable(
  "look",
  {
    pieceId: uuid("piece_id")
      .notNull()
      .references(() => piece.id),
    personId: uuid("person_id")
      .notNull()
      .references(() => person.id),
    versionId: uuid("version_id")
      .notNull()
      .references(() => version.id),
    earlierId: uuid("earlier_id").references(() => version.id),
    at: instant("at").notNull(),
  },
  (table) => [primaryKey({ columns: [table.pieceId, table.personId] })],
);

/** A piece's time in one state; the open one is where it is now. */
export const stay = mysqlTable(
  "stay",
  {
    id: uuid("id").primaryKey(),
    pieceId: uuid("piece_id")
      .notNull()
      .references(() => piece.id),
    stateKey: token("state_key", { length: 60 }).notNull(),
    /** Where it was then, so that the past can be counted when the piece has gone elsewhere. */
    workflowRevisionId: uuid("workflow_revision_id")
      .notNull()
      .references(() => workflowRevision.id),
    sectionId: uuid("section_id")
      .notNull()
      .references(() => section.id),
    kindId: uuid("kind_id")
      .notNull()
      .references(() => kind.id),
    arrivedAt: instant("arrived_at").notNull(),
    leftAt: instant("left_at"),
    /** How it came: the step's name, by whom, with which note. */
    step: varchar("step", { length: 80 }),
    byId: uuid("by_id").references(() => person.id),
    note: text("note").notNull(),
  },
  (table) => [
    index("stay_piece").on(table.pieceId, table.arrivedAt),
    index("stay_state").on(table.stateKey, table.arrivedAt),
    index("stay_line").on(table.workflowRevisionId, table.leftAt),
  ],
);

/** How a round ended: by its rule, past it, or because the piece left. */
export type RoundEnd = "passed" | "returned" | "declined" | "overridden" | "withdrawn";

export const round = mysqlTable(
  "round",
  {
    id: uuid("id").primaryKey(),
    pieceId: uuid("piece_id")
      .notNull()
      .references(() => piece.id),
    number: int("number").notNull(),
    stateKey: token("state_key", { length: 60 }).notNull(),
    rule: token("rule", { length: 20 }).$type<Rule>().notNull(),
    count: int("count").notNull(),
    versionId: uuid("version_id")
      .notNull()
      .references(() => version.id),
    senderId: uuid("sender_id").references(() => person.id),
    note: text("note").notNull(),
    openedAt: instant("opened_at").notNull(),
    dueAt: instant("due_at"),
    /** Until when its reminders, and what follows for who is late, were made. */
    calledUntil: instant("called_until"),
    closedAt: instant("closed_at"),
    outcome: token("outcome", { length: 20 }).$type<RoundEnd>(),
    /** Why it can no longer pass; null while it can. */
    stuck: token("stuck", { length: 20 }).$type<Stuck>(),
  },
  (table) => [
    unique("round_number").on(table.pieceId, table.number),
    index("round_open").on(table.closedAt, table.stuck),
  ],
);

export type SeatStatus = "open" | "waiting" | "decided" | "void" | "closed";

export const seat = mysqlTable(
  "seat",
  {
    id: uuid("id").primaryKey(),
    roundId: uuid("round_id")
      .notNull()
      .references(() => round.id),
    pieceId: uuid("piece_id")
      .notNull()
      .references(() => piece.id),
    position: int("position").notNull(),
    personId: uuid("person_id")
      .notNull()
      .references(() => person.id),
    forPersonId: uuid("for_person_id").references(() => person.id),
    status: token("status", { length: 10 }).$type<SeatStatus>().notNull(),
    voidReason: token("void_reason", { length: 20 }).$type<VoidReason>(),
    flag: token("flag", { length: 20 }).$type<Flag>(),
  },
  (table) => [
    unique("seat_position").on(table.roundId, table.position),
    index("seat_person").on(table.personId, table.status),
    index("seat_undecided").on(table.status, table.forPersonId, table.personId),
    index("seat_piece").on(table.pieceId, table.personId),
  ],
);

export const decision = mysqlTable(
  "decision",
  {
    id: uuid("id").primaryKey(),
    roundId: uuid("round_id")
      .notNull()
      .references(() => round.id),
    seatId: uuid("seat_id")
      .notNull()
      .references(() => seat.id),
    personId: uuid("person_id")
      .notNull()
      .references(() => person.id),
    forPersonId: uuid("for_person_id").references(() => person.id),
    verdict: token("verdict", { length: 10 }).$type<Verdict>().notNull(),
    versionId: uuid("version_id")
      .notNull()
      .references(() => version.id),
    note: text("note").notNull(),
    at: instant("at").notNull(),
    /** In a sign-off: their name as they typed it, and the hash of the text they signed. */
    signature: varchar("signature", { length: 120 }),
    signedHash: token("signed_hash", { length: 64 }),
    /** When somebody's refusal took the signature back; it stays on record. */
    withdrawnAt: instant("withdrawn_at"),
  },
  (table) => [index("decision_round").on(table.roundId, table.at)],
);

/** A link that lets one guest in to one piece. The id is a hash of its secret; the guest is a person of their own. */
export const guestLink = mysqlTable(
  "guest_link",
  {
    id: token("id", { length: 64 }).primaryKey(),
    pieceId: uuid("piece_id")
      .notNull()
      .references(() => piece.id),
    guestId: uuid("guest_id")
      .notNull()
      .references(() => person.id),
    madeBy: uuid("made_by")
      .notNull()
      .references(() => person.id),
    /** Whom it was made for, in the words of who made it. */
    label: varchar("label", { length: 120 }).notNull(),
    expiresAt: instant("expires_at").notNull(),
    revokedAt: instant("revoked_at"),
    /** When the guest first gave a name. */
    openedAt: instant("opened_at"),
  },
  (table) => [index("guest_link_piece").on(table.pieceId)],
);
