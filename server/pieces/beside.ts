import { and, desc, eq, inArray, isNull, ne, sql } from "drizzle-orm";
import { SITE } from "#core/release/channel.ts";
import type { Queryable } from "../db/client.ts";
import { prepared } from "../db/prepared.ts";
import { assignment, ledger, person, piece, release, released, version } from "../db/schema/index.ts";

import { OPEN } from "../release/plans.ts";
import { threadsOf } from "../remarks/queries.ts";
import type { Viewer } from "../viewer.ts";
import { waysOf } from "./rows.ts";

/** So many remarks come with the page of a piece; what goes beyond is asked for once it stands. */
const FIRST_REMARKS = 100;
/** So many entries of the record stand beside a text. */
const PASSAGE = 200;
const ID = sql.placeholder("id");

/** A piece's author, the number of the version readers see, and what they find where it was withdrawn. */
const askHead = prepared((db) =>
  db
    .select({
      author: person.name,
      live: version.number,
      withdrawn: sql<
        string | null
      >`(SELECT ${released.notice} FROM ${released} WHERE ${released.pieceId} = ${piece.id} AND ${released.channel} = ${SITE} ORDER BY ${released.from} DESC LIMIT 1)`,
    })
    .from(piece)
    .innerJoin(person, eq(person.id, piece.authorId))
    .leftJoin(version, eq(version.id, piece.liveVersionId))
    .where(eq(piece.id, ID))
    .prepare(),
);

const askEntries = prepared((db) =>
  db
    .select({
      seq: ledger.seq,
      at: ledger.at,
      action: ledger.action,
      after: ledger.after,
      actorId: ledger.actorId,
      forId: ledger.forId,
    })
    .from(ledger)
    .where(and(eq(ledger.pieceId, ID), ne(ledger.action, "round.opened")))
    .orderBy(desc(ledger.seq))
    .limit(PASSAGE)
    .prepare(),
);

const askPlans = prepared((db) =>
  db
    .select()
    .from(release)
    .where(and(eq(release.pieceId, ID), inArray(release.status, [...OPEN])))
    .prepare(),
);

/** The channels in which readers see a piece now, each with when that ends by itself. */
const askShown = prepared((db) =>
  db
    .select({ channel: released.channel, endsAt: released.endsAt })
    .from(released)
    .where(and(eq(released.pieceId, ID), isNull(released.until)))
    .prepare(),
);

const askAssigned = prepared((db) =>
  db
    .select({ id: person.id, name: person.name, forId: assignment.forPersonId })
    .from(assignment)
    .innerJoin(person, eq(person.id, assignment.personId))
    .where(eq(assignment.pieceId, ID))
    .prepare(),
);

/** What stands beside the text of a piece the caller may see: its way, remarks, record, plan, and who has it. */
export async function besideText(db: Queryable, id: string, viewer: Viewer) {
  const [[head], way, threads, entries, plans, shown, assigned] = await Promise.all([
    askHead(db, { id }),
    waysOf(db, [id]),
    threadsOf(db, id, viewer, FIRST_REMARKS),
    askEntries(db, { id }),
    askPlans(db, { id }),
    askShown(db, { id }),
    askAssigned(db, { id }),
  ]);
  if (!head) throw new Error(`piece ${id} is gone`);
  /** What is planned for the reader site; what is planned for other channels is among the plans. */
  const plan = plans.find((one) => one.channel === SITE) ?? null;
  return { ...head, way, threads, further: threads.length === FIRST_REMARKS, entries, plan, plans, shown, assigned };
}
