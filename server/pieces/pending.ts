import { and, asc, eq, isNotNull, isNull, ne, or, sql } from "drizzle-orm";
import { alias } from "drizzle-orm/mysql-core";
import { sayHold } from "#core/release/preflight.ts";
import { sayStuck } from "#core/review/round.ts";
import { pathName } from "#core/sections/tree.ts";
import { stateOf, type Workflow } from "#core/workflow/document.ts";
import type { Queryable } from "../db/client.ts";
import { assignment, person, piece, release, round, seat } from "../db/schema/index.ts";
import { loadDocuments } from "../piece/documents.ts";
import type { Viewer } from "../viewer.ts";
import { byPerson, happenedTo, narrowedTo, type PendingWanted } from "./lately.ts";

/** So much of each is shown, the first due first. */
const LISTED = 200;
const RECENT = 12;

const owner = alias(person, "owner");
const dueFirst = [sql`${piece.dueAt} IS NULL`, asc(piece.dueAt), asc(piece.since), asc(piece.id)];

/**
 * Everything that waits anywhere, as far as the viewer may see it: on whom, since when, until when and in whose
 * place; what is stuck and what is held, with why; and what happened last.
 */
export async function pendingPage(db: Queryable, viewer: Viewer, wanted: PendingWanted) {
  const narrowed = narrowedTo(db, viewer, wanted);
  const columns = {
    pieceId: piece.id,
    slug: piece.slug,
    title: piece.title,
    sectionId: piece.sectionId,
    revisionId: piece.workflowRevisionId,
    stateKey: piece.stateKey,
    since: piece.since,
    dueAt: piece.dueAt,
    urgency: piece.urgency,
  };
  const [seats, assigned, stuck, held, recent] = await Promise.all([
    db
      .select({ ...columns, person: person.name, personId: person.id, for: owner.name })
      .from(seat)
      .innerJoin(piece, eq(piece.id, seat.pieceId))
      .innerJoin(person, eq(person.id, seat.personId))
      .leftJoin(owner, eq(owner.id, seat.forPersonId))
      .where(and(eq(seat.status, "open"), narrowed, wanted.person ? eq(seat.personId, wanted.person) : undefined))
      .orderBy(...dueFirst)
      .limit(LISTED + 1),
    db
      .select({ ...columns, person: person.name, personId: person.id, for: owner.name })
      .from(assignment)
      .innerJoin(piece, and(eq(piece.id, assignment.pieceId), eq(piece.inFlight, true)))
      .innerJoin(person, eq(person.id, assignment.personId))
      .leftJoin(owner, eq(owner.id, assignment.forPersonId))
      .where(and(narrowed, wanted.person ? eq(assignment.personId, wanted.person) : undefined))
      .orderBy(...dueFirst)
      .limit(LISTED + 1),
    db
      .select({ ...columns, stuck: round.stuck, rule: round.rule, count: round.count })
      .from(round)
      .innerJoin(piece, eq(piece.id, round.pieceId))
      .where(and(isNull(round.closedAt), isNotNull(round.stuck), narrowed))
      .orderBy(...dueFirst)
      .limit(LISTED),
    db
      .select({ ...columns, at: release.at, status: release.status, holds: release.holds })
      .from(release)
      .innerJoin(piece, eq(piece.id, release.pieceId))
      .where(
        and(
          or(eq(release.status, "held"), and(eq(release.status, "planned"), ne(sql`JSON_LENGTH(${release.holds})`, 0))),
          narrowed,
        ),
      )
      .orderBy(asc(release.at))
      .limit(LISTED),
    happenedTo(db, and(narrowed, byPerson(wanted)), RECENT),
  ]);
  const rows = [...seats, ...assigned, ...stuck, ...held];
  const documents = await loadDocuments(
    db,
    rows.map((row) => row.revisionId),
  );
  const place = ({ revisionId, stateKey, sectionId, ...row }: (typeof rows)[number]) => ({
    ...row,
    state: stateOf(documents.get(revisionId) as Workflow, stateKey).name,
    section: pathName(viewer.places, sectionId),
  });
  const waiting = [
    ...seats.map((row) => ({ ...place(row), person: row.person, for: row.for, asked: "decide" as const })),
    ...assigned.map((row) => ({ ...place(row), person: row.person, for: row.for, asked: "see to" as const })),
  ].sort((a, b) => (a.dueAt ?? Number.MAX_SAFE_INTEGER) - (b.dueAt ?? Number.MAX_SAFE_INTEGER));
  return {
    waiting: waiting.slice(0, LISTED),
    more: waiting.length > LISTED,
    stuck: stuck.map((row) => ({ ...place(row), why: row.stuck ? sayStuck(row.stuck, row) : "" })),
    held: held.map((row) => ({ ...place(row), at: row.at, will: row.status !== "held", why: row.holds.map(sayHold) })),
    recent,
  };
}
