import { and, asc, eq, inArray, type SQL, sql } from "drizzle-orm";
import { can } from "#core/access/decide.ts";
import { meaningOf } from "#core/people/principals.ts";
import { spread } from "#core/people/spread.ts";
import { type Candidate, candidates } from "#core/review/seating.ts";
import { below } from "#core/sections/tree.ts";
import { dayAt, dayOf } from "#core/time/calendar.ts";
import { localDate } from "#core/time/local.ts";
import { visible } from "../access/visible.ts";
import type { Queryable } from "../db/client.ts";
import { assignment, person, piece, seat } from "../db/schema/index.ts";
import { loadPieces, type Piece } from "../piece/facts.ts";
import { asCandidates, NOTHING_WAITS, teamOf } from "../team/queries.ts";
import type { Viewer } from "../viewer.ts";

/** So much is weighed at once, the first due first. */
const ITEMS = 2_000;
/** So many working days ahead are shown. */
const DAYS = 10;
const HORIZON = 60;

/** Something that waits on somebody: a seat in an open review, or a piece assigned to them. */
export interface Item {
  /** Of a seat its own id, of an assignment the piece's. */
  id: string;
  sort: "seat" | "assigned";
  pieceId: string;
  revision: number;
  slug: string;
  title: string;
  state: string;
  /** The workflow it is on, and where on it, by their keys. */
  at: { line: string; stop: string };
  dueAt: number | null;
  personId: string;
  /** Who else may have it, by id; nobody where the viewer may not pass it on. */
  able: string[];
}

/**
 * How much waits on whom, as far as the viewer may see it, in the days ahead; and what to hand to whom so that
 * nobody has too much.
 *
 * @param sectionKey only of one section and those below; null for all
 */
export async function loadPage(db: Queryable, viewer: Viewer, sectionKey: string | null) {
  const section = [...viewer.places.sections.values()].find((one) => one.key === sectionKey);
  const seen = and(
    visible(viewer),
    eq(piece.inFlight, true),
    section ? inArray(piece.sectionId, below(viewer.places, section.id)) : undefined,
  );
  const { items, people, moves, over } = await evenedOut(db, viewer, seen);
  const days = daysAhead(viewer);
  return {
    people: people.map((one) => ({
      ...one,
      away: days
        .filter(({ date }) =>
          viewer.roster.absences.some(
            ({ personId, from, until }) => personId === one.id && from <= date && date <= until,
          ),
        )
        .map(({ date }) => date),
    })),
    items,
    days,
    over,
    moves,
    more: items.length === ITEMS,
    section: section?.key ?? null,
    mayLimit: can(viewer, "piece.route", { sectionIds: [], kindId: null, piece: null }, viewer.now).allowed,
  };
}

/**
 * What waits on whom, and what to hand to whom so that nobody has more than is enough.
 *
 * @param seen of which pieces
 */
export async function evenedOut(db: Queryable, viewer: Viewer, seen: SQL | undefined) {
  const [items, limits] = await Promise.all([
    itemsOf(db, viewer, seen),
    db
      .select({ id: person.id, name: person.name, limit: person.loadLimit })
      .from(person)
      .where(and(eq(person.active, true), eq(person.guest, false)))
      .orderBy(asc(person.name), asc(person.id)),
  ]);
  const concerned = new Set(items.flatMap((one) => [one.personId, ...one.able]));
  const people = limits.filter((one) => concerned.has(one.id));
  const byKey = new Map(items.map((one) => [`${one.sort} ${one.id} ${one.personId}`, one]));
  const { moves, over } = spread(
    people.map(({ id, limit }) => ({ key: id, limit })),
    [...byKey].map(([id, { personId, able }]) => ({ id, holder: personId, able })),
  );
  const found = moves.flatMap(({ item, to }) => {
    const moved = byKey.get(item);
    return moved ? [{ item: moved, to }] : [];
  });
  return { items, people, moves: found, over };
}

/** The working days ahead, today among them where one works. */
function daysAhead({ calendar, now }: Viewer): { date: string; start: number; end: number }[] {
  const found: { date: string; start: number; end: number }[] = [];
  let { number } = dayOf(calendar, now);
  for (let i = 0; i < HORIZON && found.length < DAYS; i++) {
    const day = dayAt(calendar, number++);
    if (day.open.length > 0)
      found.push({ date: localDate(day.start, calendar.timeZone), start: day.start, end: day.end });
  }
  return found;
}

async function itemsOf(db: Queryable, viewer: Viewer, seen: SQL | undefined): Promise<Item[]> {
  const dueFirst = [sql`${piece.dueAt} IS NULL`, asc(piece.dueAt), asc(piece.id)];
  const [seats, assigned] = await Promise.all([
    db
      .select({ id: seat.id, pieceId: seat.pieceId, personId: seat.personId })
      .from(seat)
      .innerJoin(piece, eq(piece.id, seat.pieceId))
      .where(and(eq(seat.status, "open"), seen))
      .orderBy(...dueFirst)
      .limit(ITEMS),
    db
      .select({ id: assignment.pieceId, pieceId: assignment.pieceId, personId: assignment.personId })
      .from(assignment)
      .innerJoin(piece, eq(piece.id, assignment.pieceId))
      .where(seen)
      .orderBy(...dueFirst)
      .limit(ITEMS),
  ]);
  const all = [
    ...seats.map((one) => ({ ...one, sort: "seat" as const })),
    ...assigned.map((one) => ({ ...one, sort: "assigned" as const })),
  ];
  const ids = [...new Set(all.map((one) => one.pieceId))];
  if (ids.length === 0) return [];
  const pieces = new Map(
    (await loadPieces(db, viewer.places, inArray(piece.id, ids))).map((one) => [one.piece.id, one]),
  );
  const ableOf = ableIn(viewer);
  return all
    .flatMap(({ id, pieceId, personId, sort }): Item[] => {
      const facts = pieces.get(pieceId);
      if (!facts) return [];
      const { revision, slug, title, dueAt } = facts.piece;
      return [
        {
          id,
          sort,
          pieceId,
          revision,
          slug,
          title,
          state: facts.state.name,
          at: { line: facts.workflow.key, stop: facts.state.key },
          dueAt,
          personId,
          able: ableOf(facts, sort).filter((one) => one !== personId),
        },
      ];
    })
    .sort((a, b) => (a.dueAt ?? Number.MAX_SAFE_INTEGER) - (b.dueAt ?? Number.MAX_SAFE_INTEGER))
    .slice(0, ITEMS);
}

/** Who may have a seat or an assignment of a piece besides who has it: whom its workflow names for it, and who is there. */
function ableIn(viewer: Viewer) {
  const team = teamOf(viewer.roster, localDate(viewer.now, viewer.calendar.timeZone), NOTHING_WAITS);
  const known = new Map<string, string[]>();
  return (facts: Piece, sort: Item["sort"]): string[] => {
    const key = `${facts.piece.id} ${sort}`;
    const found = known.get(key) ?? able(facts, sort, asCandidates(team, facts.target, viewer.now), viewer);
    known.set(key, found);
    return found;
  };
}

function able({ piece: row, state, target }: Piece, sort: Item["sort"], people: readonly Candidate[], viewer: Viewer) {
  if (!can(viewer, "piece.route", target, viewer.now).allowed) return [];
  const there = people.filter((one) => one.active && !one.away);
  if (sort === "assigned") {
    const roles = state.arrival.assign.flatMap((principal) => {
      const { sort: meant, key } = meaningOf(principal);
      return meant === "role" || meant === "least-busy" ? [key] : [];
    });
    return there.filter((one) => one.roles.some((role) => roles.includes(role))).map((one) => one.id);
  }
  const seated = new Set(target.piece?.seatedIds ?? []);
  const rules = state.review?.seats ?? [];
  const meant = rules.flatMap((rule) =>
    "role" in rule ? candidates(rule, there, row.authorId, state.review?.authorMayDecide ?? false) : [],
  );
  return [...new Set(meant.map((one) => one.id))].filter((id) => !seated.has(id));
}
