import { and, eq, gte, inArray, isNotNull, isNull, like, lt, or, type SQL, sql } from "drizzle-orm";
import { below } from "#core/sections/tree.ts";
import type { Queryable } from "../db/client.ts";
import { edition, editionItem, kind, person, piece, release, round } from "../db/schema/index.ts";
import { revisionsOf } from "../piece/documents.ts";
import { holdsWords } from "../search/queries.ts";
import type { Viewer } from "../viewer.ts";
import { lateByPlan } from "./ahead.ts";
import { waitingOn } from "./waiting.ts";

/** The instant of the request, where a read is kept for later ones. */
const NOW = sql.param(sql.placeholder("now"), piece.dueAt);

/** What a list of pieces is narrowed to; the words of its address. */
export interface PieceFilter {
  section?: string;
  state?: string;
  kind?: string;
  /** A workflow, whichever of its revisions. */
  line?: string;
  author?: string;
  /** On whom it waits, by id. */
  holder?: string;
  words?: string;
  /** Whether the words are looked for in titles alone. */
  titles?: boolean;
  late?: boolean;
  /** Only what will miss the date wished for at the present pace. */
  planLate?: boolean;
  /** Only what was moved past what its rules ask; only what waits in a review nobody could pass. */
  overridden?: boolean;
  stuck?: boolean;
  urgent?: boolean;
  /** Only what a release of is held. */
  held?: boolean;
  /** `flight` leaves out what is live or closed. */
  show?: "flight" | "live" | "all";
  /** Only what arrived where it is in so many days past. */
  within?: number;
  sort?: Sort;
  /** Where the page before ended: `ID.KEY`. */
  after?: string;
}

/** In which order: the latest arrivals, the longest wait, the first due, the first wished for readers, or by title. */
export const SORTS = ["arrived", "waits", "due", "publish", "title"] as const;
export type Sort = (typeof SORTS)[number];

/** A filter as a read takes it: what is late by plan is known by then, by id. */
export type Filter = Omit<PieceFilter, "after" | "planLate"> & { among?: readonly string[] };
/** Finds out what a filter asks that no column says. */
export const settled = async (db: Queryable, viewer: Viewer, { planLate, ...filter }: PieceFilter): Promise<Filter> =>
  planLate ? { ...filter, among: await lateByPlan(db, viewer) } : filter;

/** What a filter asks of a piece, whoever sees it. @returns conditions on {@link piece} that know the instant as `now` */
export function conditions(db: Queryable, viewer: Viewer, filter: Filter): SQL[] {
  const found: (SQL | undefined)[] = [];
  if (filter.show === "live") found.push(isNotNull(piece.liveVersionId));
  else if (filter.show !== "all") found.push(eq(piece.inFlight, true));
  if (filter.section) {
    const chosen = [...viewer.places.sections.values()].find((one) => one.key === filter.section);
    found.push(inArray(piece.sectionId, chosen ? below(viewer.places, chosen.id) : []));
  }
  if (filter.state) found.push(eq(piece.stateKey, filter.state));
  if (filter.kind)
    found.push(sql`${piece.kindId} = (SELECT ${kind.id} FROM ${kind} WHERE ${kind.key} = ${filter.kind})`);
  if (filter.line) found.push(inArray(piece.workflowRevisionId, revisionsOf(db, filter.line)));
  if (filter.holder) {
    const holds = waitingOn(db, filter.holder);
    found.push(sql`${piece.id} IN ${db.select({ id: holds.pieceId }).from(holds)}`);
  }
  if (filter.urgent) found.push(eq(piece.urgency, "urgent"));
  if (filter.held)
    found.push(
      or(
        sql`${piece.id} IN (SELECT ${release.pieceId} FROM ${release} WHERE ${eq(release.status, "held")})`,
        sql`${piece.id} IN (SELECT ${editionItem.pieceId} FROM ${editionItem} JOIN ${edition} ON ${edition.id} = ${editionItem.editionId} WHERE ${eq(edition.status, "held")})`,
      ),
    );
  if (filter.author)
    found.push(sql`${piece.authorId} = (SELECT ${person.id} FROM ${person} WHERE ${person.key} = ${filter.author})`);
  if (filter.words) {
    const inTitle = like(piece.title, `%${filter.words.replace(/[\\%_]/g, "\\$&")}%`);
    const anywhere = filter.titles ? null : holdsWords(filter.words);
    found.push(anywhere ? or(inTitle, anywhere) : inTitle);
  }
  if (filter.within) found.push(gte(piece.since, sql`${NOW} - INTERVAL ${filter.within} DAY`));
  if (filter.overridden) found.push(isNotNull(piece.overriddenAt));
  if (filter.stuck)
    found.push(
      sql`${piece.id} IN (SELECT ${round.pieceId} FROM ${round} WHERE ${and(isNull(round.closedAt), isNotNull(round.stuck))})`,
    );
  if (filter.late) found.push(lt(piece.dueAt, NOW));
  if (filter.among) found.push(inArray(piece.id, [...filter.among]));
  return found.filter((condition) => condition !== undefined);
}
