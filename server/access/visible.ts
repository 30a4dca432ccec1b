import { and, eq, exists, gte, inArray, isNull, lt, or, type SQL, sql } from "drizzle-orm";
import { type Grant, type Holder, inForce, type Scope } from "#core/access/decide.ts";
import { ownOnly, type Permission } from "#core/access/permissions.ts";
import { below } from "#core/sections/tree.ts";
import { assignment, piece, pieceViewer, seat } from "../db/schema/index.ts";
import type { Places } from "../sections/places.ts";
import type { Viewer } from "../viewer.ts";

const nobody = sql`FALSE`;

/**
 * The SQL condition under which a row of `piece` is visible to a viewer: what `can(…, "piece.read", …)`
 * says, for lists, counts and single reads alike.
 */
export function visible(viewer: Viewer): SQL {
  const { readable, admitted, mine, own } = ways(viewer);
  // Cheapest first: for most viewers and pieces the first of these decides, without a look at another table.
  const open = any([all([any(readable), admitted]), ...mine]);
  return all([isNull(piece.deletedAt), any([all([eq(piece.private, false), open]), own])]);
}

/**
 * The same condition as alternatives of which each is served by an index of its own: for counting,
 * where a scan would look at every piece that somebody with scattered grants may not see.
 */
export function visibleApart(viewer: Viewer): SQL[] {
  const { readable, admitted, mine, own } = ways(viewer);
  const open = [...readable.map((reached) => all([reached, admitted])), ...mine];
  return [...open.map((way) => all([eq(piece.private, false), way])), own].map((way) =>
    all([isNull(piece.deletedAt), way]),
  );
}

/** The ways by which a piece may be visible: reached by a grant and admitted by its state, a part in it, one's own. */
function ways(viewer: Viewer): { readable: SQL[]; admitted: SQL; mine: SQL[]; own: SQL } {
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
  if (grants.some((grant) => grant.scope.kind === "publication" && !isWindowed(grant))) return [sql`TRUE`];
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
