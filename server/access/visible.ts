import { and, eq, exists, gte, inArray, isNull, lt, or, type SQL, sql } from "drizzle-orm";
import { type Grant, type Holder, inForce, type Scope } from "#core/access/decide.ts";
import { ownOnly, type Permission } from "#core/access/permissions.ts";
import { below } from "#core/sections/tree.ts";
import type { Queryable } from "../db/client.ts";
import type { Prepared } from "../db/prepared.ts";
import { assignment, piece, pieceViewer, seat } from "../db/schema/index.ts";
import type { Places } from "../sections/places.ts";

/** Who reads: what they hold, and the places it reaches, at an instant. */
export interface Reader extends Holder {
  places: Places;
  now: number;
}

const nobody = sql`FALSE`;
const EVERYTHING = sql`TRUE`;

/**
 * The SQL condition under which a row of `piece` is visible to a viewer: what `can(…, "piece.read", …)`
 * says, for lists, counts and single reads alike.
 */
export function visible(viewer: Reader): SQL {
  const { readable, admitted, mine, own } = ways(viewer);
  // Cheapest first: for most viewers and pieces the first of these decides, without a look at another table.
  const open = any([all([any(readable), admitted]), ...mine]);
  return all([isNull(piece.deletedAt), any([all([eq(piece.private, false), open]), own]), ...lookedThrough(viewer)]);
}

/** Where somebody looks through a viewer's eyes: what they may see themselves. */
const lookedThrough = ({ seenBy, places, now }: Reader): SQL[] => (seenBy ? [visible({ ...seenBy, places, now })] : []);

/**
 * The same condition as alternatives of which each is served by an index of its own: for counting,
 * where a scan would look at every piece that somebody with scattered grants may not see. For who
 * reads everywhere it is one.
 */
export function visibleApart(viewer: Reader): SQL[] {
  const { readable, admitted, mine, own } = ways(viewer);
  if (readable.some((way) => way === EVERYTHING)) return [visible(viewer)];
  const open = [...readable.map((reached) => all([reached, admitted])), ...mine];
  return [...open.map((way) => all([eq(piece.private, false), way])), own].map((way) =>
    all([isNull(piece.deletedAt), way, ...lookedThrough(viewer)]),
  );
}

/** So many reads of different shapes are kept for a viewer. */
const SHAPES = 20;

/**
 * A read with the visibility condition in it, made once for a viewer as they stand, and made anew when
 * what they hold was read anew, or when the time of one of their grants has come or gone.
 *
 * @param make builds the read in a shape, which is plain data, with `sql.placeholder(name)` where a value goes
 */
export function seenBy<W extends Reader, S, V extends Record<string, unknown>, R>(
  make: (db: Queryable, viewer: W, shape: S) => Prepared<V, R>,
) {
  const made = new WeakMap<
    readonly Grant[],
    { db: Queryable; from: number; until: number; reads: Map<string, Prepared<V, R>> }
  >();
  return (db: Queryable, viewer: W, shape: S, values: V): Promise<R> => {
    const { grants, now } = viewer;
    let known = made.get(grants);
    if (known?.db !== db || now < known.from || now >= known.until) {
      const turns = grants
        .flatMap(({ from, until }) => [from, until])
        .filter((at): at is number => at !== null && at > now);
      known = { db, from: now, until: Math.min(...turns), reads: new Map() };
      made.set(grants, known);
    }
    const key = JSON.stringify(shape);
    const read = known.reads.get(key) ?? make(db, viewer, shape);
    if (known.reads.size >= SHAPES) known.reads.clear();
    known.reads.set(key, read);
    return read.execute(values);
  };
}

/** The ways by which a piece may be visible: reached by a grant and admitted by its state, a part in it, one's own. */
function ways(viewer: Reader): { readable: SQL[]; admitted: SQL; mine: SQL[]; own: SQL } {
  const { places, now } = viewer;
  const grants = viewer.grants.filter((grant) => inForce(grant, now));
  const readable = grants.filter((grant) => grant.permissions.includes("piece.read"));
  // A role is a principal wherever its grant reaches: the grants of one role are asked together.
  const roles = [...new Set(grants.map((grant) => grant.roleKey))];
  const admitted = any([
    eq(piece.restricted, false),
    shows([`person:${viewer.key}`, "anyone"]),
    ...roles.map((role) => {
      const held = grants.filter((grant) => grant.roleKey === role);
      return all([any(reaches(held, places)), shows([`role:${role}`])]);
    }),
  ]);
  const mine = (table: typeof seat | typeof assignment) =>
    sql`${piece.id} IN (SELECT ${table.pieceId} FROM ${table} WHERE ${table.personId} = ${viewer.id})`;
  return {
    readable: reaches(readable, places),
    admitted,
    mine: [mine(seat), mine(assignment)],
    own: eq(piece.authorId, viewer.id),
  };
}

/**
 * The SQL condition for the pieces a person's grants of a permission reach, whatever the pieces'
 * states say: for counting what a change of roles would touch.
 */
export function inReach(holder: Holder, permission: Permission, places: Places, now: number): SQL {
  const grants = holder.grants.filter((grant) => inForce(grant, now));
  const whole = grants.filter((grant) => grant.permissions.includes(permission));
  const own = grants.filter((grant) => grant.permissions.includes(ownOnly(permission)));
  return any([...reaches(whole, places), all([eq(piece.authorId, holder.id), any(reaches(own, places))])]);
}

/** What some grants cover, as alternatives, one for each column of `piece` they ask. */
function reaches(grants: readonly Grant[], places: Places): SQL[] {
  if (grants.some((grant) => grant.scope.kind === "publication" && !isWindowed(grant))) return [EVERYTHING];
  const alternative = (kind: Scope["kind"]) => {
    const held = grants.filter((grant) => grant.scope.kind === kind);
    const whole = held.filter((grant) => !isWindowed(grant));
    const ways = held.filter(isWindowed).map((grant) => all([place(kind, [grant], places), ...window(grant)]));
    return whole.length > 0 ? [place(kind, whole, places), ...ways] : ways;
  };
  return (["section", "kind", "piece", "publication"] as const)
    .map(alternative)
    .flatMap((ways) => (ways.length > 0 ? [any(ways)] : []));
}

const isWindowed = ({ publishFrom, publishUntil }: Grant) => publishFrom !== null || publishUntil !== null;

/** The places of grants of one sort of scope, gathered into one list. */
function place(kind: Scope["kind"], grants: readonly Grant[], places: Places): SQL {
  const ids = grants.flatMap(({ scope }) => ("id" in scope ? [scope.id] : []));
  if (kind === "publication") return sql`TRUE`;
  if (kind === "kind") return inArray(piece.kindId, ids);
  if (kind === "piece") return inArray(piece.id, ids);
  const sections = [...new Set(ids.flatMap((id) => below(places, id)))];
  return sections.length > 0 ? inArray(piece.sectionId, sections) : nobody;
}

const window = ({ publishFrom, publishUntil }: Grant): SQL[] => [
  ...(publishFrom !== null ? [gte(piece.publishAt, publishFrom)] : []),
  ...(publishUntil !== null ? [lt(piece.publishAt, publishUntil)] : []),
];

function shows(principals: string[]): SQL {
  return exists(
    sql`(SELECT 1 FROM ${pieceViewer} WHERE ${pieceViewer.pieceId} = ${piece.id} AND ${inArray(pieceViewer.principal, principals)})`,
  );
}

const any = (conditions: SQL[]): SQL => or(...conditions) ?? nobody;
const all = (conditions: SQL[]): SQL => and(...conditions) as SQL;
